"""Windows of their own beside the board."""
