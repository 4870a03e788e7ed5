"""Every calculation of Vernus: plain functions on millimetres, degrees Celsius and seconds, with no Qt, files or clock."""
