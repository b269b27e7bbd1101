"""The camera as numbers that are solved for: where the fit begins, how far marks lie off, the fit itself."""
