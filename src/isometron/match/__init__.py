"""From a photograph: marks on a picture give the eye that took it, and the sizes of what was marked, each with its plus-minus."""
