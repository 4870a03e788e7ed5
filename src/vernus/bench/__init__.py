"""Stand-ins for machine and instruments, and the serial line that real ones use too."""
