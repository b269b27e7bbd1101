"""One closed surface of a body: patches with names, exact curves between them, and the loops that bound them."""
