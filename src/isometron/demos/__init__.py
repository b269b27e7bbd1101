"""Demo documents of the Lantern Row night market, made up for this program and sized from its briefs."""
