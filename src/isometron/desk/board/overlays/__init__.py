"""What lies over the drawing on the board: a file each, painted in the order of the register."""
