"""What words do in a clause about a deed."""

from __future__ import annotations

from enum import Enum


class Tag(Enum):
    """What a word does in a clause about a deed."""

    YES = "says itself that it helped: that was it, bingo"
    NO = "says itself that it did not: no go, wrong guess"
    HEDGE = "neither one nor the other: on soak, a shade better, once yes, once no"
    GOOD = "what a set does or shows that is well: starts, picture"
    BAD = "what it does or shows that is not: ticks, dark, smoke"
    WEAK = "stands or is there, of whatever it is said"
    THING = "a rail, a fuse, a plug: missing is bad, there is well, by itself it says nothing"
    NONE = "no, not, never, without: turns what follows"
    NOTHING = "nothing, none: bad by itself, turns a trouble that follows"
    ENDED = "gone, ceased, stopped: turns what it is said of"
    DIED = "the same, and bad by itself: died, quit"
    CURES = "cured, solved: good by itself, turns a trouble that follows"
    STILL = "still, as before, the same: bad by itself, leaves a word as it is"
    AGAIN = "again, back: leaves a word as it is"
    BRIEF = "for a second: no cure"
    CHANGE = "change, effect: none of it is bad"
    THEN = "opens what came later: then, until"
    SMALL = "says nothing"
    UNKNOWN = "in no list"
