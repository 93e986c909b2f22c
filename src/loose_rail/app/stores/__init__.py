"""Stores: what lies in the drawers, what suppliers and kits offer, what is on order."""
