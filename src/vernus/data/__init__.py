"""Data shipped with Vernus: scale families, machine kinds, the demo job, fonts."""
