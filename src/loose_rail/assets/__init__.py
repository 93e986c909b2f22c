"""Fonts and icons that screens and reports share."""
