"""The workings: calculators, each with its drawing."""
