"""Tools of the Form stage: openings, lines and sections on what stands."""
