"""The stores: drawers, suppliers, kits, orders."""
