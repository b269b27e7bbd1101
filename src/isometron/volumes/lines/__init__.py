"""Lines drawn on the surfaces of volumes."""
