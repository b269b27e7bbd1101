"""What a person can do by a menu or a key."""
