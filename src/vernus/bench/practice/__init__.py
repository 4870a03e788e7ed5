"""A machine that can't be hurt: one hidden world, what can be gripped, and the lessons learned on it."""
