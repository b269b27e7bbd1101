"""Bodies that are cut out of their bounding volume by profiles: side view, plan and front."""
