"""One board looked at and mended: the panel, and its page in front of a job."""
