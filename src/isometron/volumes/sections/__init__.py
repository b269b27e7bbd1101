"""What planes cut out of volumes."""
