"""Vernus: plan, fit, calibrate and record readout and power feed retrofits on manual machines."""

__version__ = "0.1.0"
