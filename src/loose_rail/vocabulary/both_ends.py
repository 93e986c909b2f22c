"""What a meter finds at a plug with the volts of both ends of its cable, and no eye."""

DROPS_VOLTS, NO_DROP = "drops_volts", "no_drop"
READ_AT_BOTH_ENDS = frozenset({DROPS_VOLTS, NO_DROP})
