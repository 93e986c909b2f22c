"""Quantities, errors, reasons and observations: standard library only, used by every room."""
