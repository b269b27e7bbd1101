"""The sheet, the eye, and what follows from them: vanishing and measuring points, the horizon, the cone."""
