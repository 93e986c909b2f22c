"""What a finished job looks like on paper: content once, rendered as HTML and as PDF."""
