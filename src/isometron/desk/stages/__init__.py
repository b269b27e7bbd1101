"""The stages of the work: a folder each."""
