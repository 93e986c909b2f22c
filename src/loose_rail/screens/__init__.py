"""Screens, one folder each: state, presenter, view."""
