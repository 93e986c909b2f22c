"""Loose Rail: a bench colleague for repairing the power boards of flat-panel sets."""

__version__ = "0.1.0"
