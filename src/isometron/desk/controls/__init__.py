"""Fields, rows, sections and buttons that stages are made of."""
