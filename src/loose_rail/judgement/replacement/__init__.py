"""Rules for replacements, by kind of part."""
