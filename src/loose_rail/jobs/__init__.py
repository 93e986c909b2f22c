"""A job as an append-only log of events, and the pure fold that turns the log into its state."""
