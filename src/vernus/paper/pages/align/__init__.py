"""Pages of setting: passes of alignment and the reader."""
