"""The Qt Widgets interface: board, stages, ledger. It takes models; no model knows of it."""
