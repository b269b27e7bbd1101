"""Surfaces paint a drawing: board, PNG, PDF, SVG, tables. None of them computes geometry."""
