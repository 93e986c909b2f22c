"""The board book: boards of the shop and those that ship, looked at and mended by typed lines."""
