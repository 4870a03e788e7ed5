"""Every calculation of Vernus: plain functions on millimetres, degrees Celsius and seconds; no Qt, files or clock."""
