"""From evidence to probabilities and a finding."""
