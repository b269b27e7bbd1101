"""The kinds of volume: each gives its vertices, edges, faces and convex pieces in world millimetres."""
