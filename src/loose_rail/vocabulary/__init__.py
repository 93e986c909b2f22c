"""Words that every room shares, as small types."""
