"""Pictures on the sheet: what is kept of them, where they lie, and what is marked on them."""
