"""Pictures to scale, painted alike on screen and paper."""
