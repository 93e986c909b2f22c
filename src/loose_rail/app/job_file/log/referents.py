"""What “it”, “that one”, “that 22 uF” and “the shorted part” mean: a part that was named before.

Every part that an entry names is remembered with the words beside it, the last first. A
demonstrative with a noun or a value means the last part that fits it; one without means the last
part of all.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from loose_rail.boards.parts_named import may_mean, names_a_kind
from loose_rail.boards.profile import Board

MOST_REMEMBERED = 12
MOST_TOGETHER = 4
"""Parts that are named together and may be meant by “them”; more are a whole section."""
_POINTS = re.compile(
    r"^(?:the )?(?P<which>it|them|both|this|that|these|those|(?:the )?same|"
    r"(?:bad|faulty|suspect|shorted|short|open|dried|dry|leaky|weak|tired|worn|failed|broken|dead) "
    r"(?=one|part|can|cap|piece|\d))\b ?(?P<rest>.*)$",
    re.IGNORECASE,
)
_ONE_OF_THEM = re.compile(
    r"^(?:the )?(?P<which>first|second|middle|third|last|other|upper|lower|1st|2nd|3rd)"
    r"(?: (?:one|resistor|part|of (?:them|these|those|the (?:two|three|four)))){1,2}\b",
    re.IGNORECASE,
)
"""“The middle one of them”: by its place among several that were named together."""
_BLANK = re.compile(r"^(?:ones?|parts?|two|pair|piece|thing|component|place)?$", re.IGNORECASE)
_VALUE = re.compile(
    r"(?<![\w.])(\d+(?:[.,]\d+)?) ?(µ|u|n|p|k|m|meg|r)?(f|ohms?|Ω|v)?(?![\w])|"
    r"(?<![\w.])(\d+[rkm]\d+)\b",
    re.IGNORECASE,
)
_ITS_END = re.compile(
    r"\b(?:in|at|on|to|of|from) its (source|gate|base|emitter)\b(?: (?:lead|leg|pin|resistor))?",
    re.IGNORECASE,
)
_THE_VALUE = re.compile(
    r"^(?:the )?(?=\d)(?P<rest>[\d.,]+ ?[µunpkKMrR]?(?:[fF]|ohms?|Ω)?(?: ?\d+ ?[vV])?)$",
    re.IGNORECASE,
)
"""“The 22 uF”, “47 uF 50 V”: by its value alone."""


class Referents:
    """The parts that a job spoke of, the last first."""

    def __init__(self, board: Board) -> None:
        self._board = board
        self._mentions: list[tuple[tuple[str, ...], str]] = []

    def mention(self, parts: Sequence[str], words: str) -> None:
        """Parts that were named just now, with what was said of them."""
        if parts and len(parts) <= MOST_TOGETHER:
            self._mentions.insert(0, (tuple(parts), words))
            del self._mentions[MOST_REMEMBERED:]

    def mention_unknown(self, words: str) -> None:
        """A part was named that is not known here: what points back to it is no other part."""
        self._mentions.insert(0, ((), words))
        del self._mentions[MOST_REMEMBERED:]

    @property
    def unknown(self) -> str:
        """The words of the part that was named last and is not known here; empty where it is."""
        return self._mentions[0][1] if self._mentions and not self._mentions[0][0] else ""

    def points_to_unknown(self, text: str) -> bool:
        """Whether words point back to a part that was named last and is not known here."""
        points = _POINTS.match(text.strip().rstrip("."))
        if points is None or not self._mentions or self._mentions[0][0]:
            return False
        rest = points["rest"].strip().lower()
        return bool(_BLANK.match(rest)) or rest.split()[-1] in self._mentions[0][1].lower()

    def meant(self, text: str) -> list[str]:
        """The parts that words point back to; none where they point to none."""
        words = text.strip().rstrip(".")
        points = _POINTS.match(words)
        if points is None:
            if one := _ONE_OF_THEM.match(words):
                return self._of_several(one["which"].lower())
            value = _THE_VALUE.match(words)
            return [] if value is None else self._with_value(value["rest"])
        rest = points["rest"].strip()
        if _BLANK.match(rest):
            return list(self._mentions[0][0]) if self._mentions else []
        if _VALUE.match(rest):
            return self._with_value(rest)
        if names_a_kind(rest):
            return self._of_kind(rest)
        return []

    def _of_several(self, which: str) -> list[str]:
        parts = next((parts for parts, _ in self._mentions if len(parts) > 1), ())
        if not parts:
            return []
        last = len(parts) - 1
        place = {"first": 0, "1st": 0, "upper": 0, "third": 2, "3rd": 2, "last": last}
        place |= {"lower": last, "middle": len(parts) // 2}
        return [parts[min(place.get(which, 1), last)]]

    def with_its_owner(self, text: str) -> str:
        """“0.47R in its source” with the part that was spoken of last in place of “its”."""
        if not self._mentions or len(self._mentions[0][0]) != 1:
            return text
        owner = self._mentions[0][0][0]
        name = self._board.component(owner).duty or owner
        return _ITS_END.sub(lambda found: f"{found[1]} resistor of the {name}", text)

    def _with_value(self, rest: str) -> list[str]:
        wanted = _values(rest)
        for parts, words in self._mentions:
            if parts and wanted and wanted <= _values(words):
                return list(parts)
        return []

    def _of_kind(self, rest: str) -> list[str]:
        for parts, _ in self._mentions:
            if parts and all(may_mean(self._board, rest, ref) for ref in parts):
                return list(parts)
        return []


def _values(words: str) -> frozenset[str]:
    """Values in one spelling: “22 uF”, “22u” and “22 µF” alike."""
    found = set()
    for match in _VALUE.finditer(words):
        if match[4]:
            found.add(match[4].lower())
            continue
        scale, unit = (match[2] or "").lower(), (match[3] or "").lower()
        if scale or unit:
            found.add(f"{match[1].replace(',', '.')}{'u' if scale == 'µ' else scale}{unit[:1]}")
    return frozenset(
        one.removesuffix("f") if one.endswith(("uf", "nf", "pf")) else one for one in found
    )
