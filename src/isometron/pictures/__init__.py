"""Pictures as rasters: read in a bounded way."""
