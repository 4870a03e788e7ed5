"""A check of the display in a job: its setting, what it says is keyed in, and the edits at the machine."""
