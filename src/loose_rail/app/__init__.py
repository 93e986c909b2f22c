"""Use cases and the ports they need. Orchestrates; computes nothing itself."""
