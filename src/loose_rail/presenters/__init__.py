"""From results to plain view states: one frozen state for every screen, no Qt.

`states` imports nothing heavy and is all that the views need before the first paint.
"""
