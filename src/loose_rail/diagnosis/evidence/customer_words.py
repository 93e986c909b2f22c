"""Free words of a customer mapped to structured symptoms and history; the mapping is shown.

A proposal names the phrase it rests on; a person confirms it. Negations are part of the phrases.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from loose_rail.diagnosis.evidence.clauses import told
from loose_rail.diagnosis.evidence.history import history_phrases, history_words
from loose_rail.diagnosis.evidence.symptoms import TICKS, symptom_words, vocabulary
from loose_rail.kernel.negation import plain_match
from loose_rail.kernel.number_words import NUMBER_WORDS
from loose_rail.kernel.short_hand import spelled_out

DEAD = "dead_silent"
SAID_BY = {
    "clicks_none": ("clicks_once", TICKS),
    TICKS: ("clicks_once",),
    "clicks_once": (TICKS,),
    "indicator_steady": ("indicator_none", "indicator_blinks"),
    "picture_none": ("picture_by_torch",),
    "picture_dim": ("half_dark",),
    "indicator_none": ("no_light",),
    "picture_black_lit": ("picture_by_torch",),
    "starts_then_stops": ("restarts", "dies_warm"),
}
IMPLIED_BY_DEAD = ("indicator_none", "no_light", "clicks_none", "never_starts")
_IS = re.compile(r"\b(lights?|lamp|led|screen|picture|sound|tv|set)'s\b")
_HAS_NONE = re.compile(
    r"\b(?:this|the|our|that) (?:model|set|type|tv|one|make) (?:has|has got|comes with) "
    r"(?:no|none)\b|"
    r"\b(?:lamp|light|led|indicator|dot)\b[^.]{0,8}(?:never had (?:one|any)|there is none)\b|"
    r"\bnever had (?:a|any) (?:lamp|light|led|indicator|dot)|"
    r"\bno (?:standby |power )?(?:lamp|light|led|indicator|dot) (?:on|with|in) (?:this|that) "
    r"(?:model|set|type|make|one)\b"
)
"""A set that is built without an indicator: none lit says nothing."""
_EYE = re.compile(
    r"\b(?<!of my )(?<!of the )eye\b(?= (?:is|turns|goes|stays|blinks|winks|lights|glows|"
    r"open)\b)|(?<=red )eye\b|(?<=green )eye\b"
)
"""The indicator, as some call it."""
_TAKES_THE_KEY = re.compile(
    r"\b(?:the |its )?(?:standby |red |power )?(?:light|lamp|led) (?:goes (?:off|out)|changes|"
    r"dims|winks|flickers)(?: once)? (?:when|if|as soon as) (?:i|you|one|we) press\w*(?: the \w+)?"
)
"""An indicator that answers to a key: no sign of anything wrong."""
HARMLESS = re.compile(
    r"\b(?:creaks?|cracks?|(?:clicks?|ticks?|pops?) softly)\b[^.;!?]{0,20}"
    r"\b(?:as|when|while|during) (?:it |the (?:set|case|plastic|cabinet) )?(?:is )?"
    r"(?:warm|cool|heat)(?:s|ing)?(?:[ -]?(?:up|down))?\b|"
    r"\b(?:hums?|buzz(?:es)?|creaks?|whines?) (?:\w+ )?"
    r"(?:as (?:it )?(?:always|ever)|like always|since new|as it (?:always )?(?:did|has))\b|"
    r"\bhas always (?:hummed|buzzed|creaked|whined)\b|\bfan noise is normal\b"
)
"""Plastic that warms, and what a set did from new: no sign of anything wrong. What crackles may
arc, and what ticks restarts: neither is among them."""
_USED_TO = re.compile(
    r"\b(?:was|were|used to) (?!(?:ok|fine|good|working|perfect|all right|dropped|moved|opened|"
    r"repaired|wet|hit|struck)\b)[^.;!?,]{3,40}, (?:but )?now "
)
"""What it did before it does what it does now is no sign any more."""
_WELL_BY_REMOTE = re.compile(
    r"\b(?:with|by|from|using) (?:the |its )?(?:remote|handset)(?: control)?\b[^.;]{0,14}"
    r"\b(?:works?|fine|all right|ok|does|starts?|comes on|no (?:problem|trouble))\b|"
    r"\b(?:remote|handset)(?: control)? (?:works|is fine|starts it|switches it on)\b"
)
"""A set that starts from its remote: what does not answer are its keys."""
_TORCH_IN_VAIN = re.compile(
    r"\b(?:no|not|nothing|neither|never|can.t see|cannot see)\b"
    r"(?:(?!\bbut\b|\bonly\b|\bunless\b|\bwithout\b)[^.;,]){0,28}\b(?:with|by|under|using|in) "
    r"(?:a |the |my |any )?(?:bright )?(?:torch|flash ?light)\b|"
    r"\b(?:torch|flash ?light)\b[^.;,]{0,10},? ?(?:there is )?(?:also |still |shows? |but )*"
    r"(?:nothing|no (?:picture|image)|(?:does not|doesn.t) help|no use|dark|black|in vain)\b"
)
"""A torch that shows nothing: there is no picture."""
YEARS = re.compile(rf"(\d+(?:[.,]\d+)?|{'|'.join(NUMBER_WORDS)}) ?(?:years?|yrs?|y)\b(?: old)?")
YOUNG_YEARS, OLD_YEARS = 3.0, 8.0


@dataclass(frozen=True, slots=True)
class Proposal:
    """A symptom or a fact of the history that words propose, with the words it rests on."""

    kind: str
    phrase: str
    is_history: bool = False
    hertz: float | None = None


def proposals(text: str) -> list[Proposal]:
    """What a complaint says, in the order of the vocabulary; nothing twice, nothing negated."""
    lowered = " ".join(spelled_out(text).lower().replace("’", "'").split())
    lowered = _EYE.sub("lamp", lowered)
    lowered = _IS.sub(r"\1 is", lowered)
    lowered = _USED_TO.sub("now ", _TAKES_THE_KEY.sub(" ", HARMLESS.sub(" ", lowered)))
    found: dict[str, Proposal] = {}
    for pattern, kind in vocabulary().phrases:
        match = plain_match(pattern, lowered)
        if match and kind not in found and not _is_covered(kind, found):
            hertz = _rate(lowered) if kind == TICKS else None
            found[kind] = Proposal(kind, match[0], hertz=hertz)
    course = told(lowered)
    for kind in course.not_meant:
        found.pop(kind, None)
    for kind, words in course.kinds.items():
        if kind not in found and not _is_covered(kind, found) and not _denied(kind, found):
            found[kind] = Proposal(kind, words)
    _without_seeming(lowered, found)
    for pattern, fact in history_phrases():
        match = plain_match(pattern, lowered)
        if match and fact not in found:
            found[fact] = Proposal(fact, match[0], is_history=True)
    if "surge_mains" in found or "surge_signal" in found:
        found.pop("surge", None)
    years = YEARS.search(lowered)
    if years:
        number = NUMBER_WORDS.get(years[1]) or float(years[1].replace(",", "."))
        fact = age_fact(float(number))
        if fact:
            found[fact] = Proposal(fact, years[0], is_history=True)
    return list(found.values())


def _without_seeming(lowered: str, found: dict[str, Proposal]) -> None:
    """Take out what only seems to be a sign: a lamp that blinks for the key, one that is not
    there."""
    if _WELL_BY_REMOTE.search(lowered):
        found.pop("never_starts", None)
    vain = _TORCH_IN_VAIN.search(lowered)
    if vain and "picture_by_torch" in found:
        found.pop("picture_by_torch")
        found.setdefault("picture_none", Proposal("picture_none", vain[0]))
    answers = found.get("remote_answers")
    if answers and re.search(r"wink|blink|flash|flicker", answers.phrase):
        found.pop("indicator_blinks", None)
    if _HAS_NONE.search(lowered):
        found.pop("indicator_none", None)
    blinks, steady = found.get("indicator_blinks"), found.get("indicator_steady")
    if blinks and steady and ("counts" in blinks.phrase or steady.phrase in blinks.phrase):
        found.pop("indicator_steady")  # “flashes the red light”
    if "half_dark" in found:
        found.pop("picture_dim", None)


def age_fact(years: float) -> str:
    """The fact that an age amounts to; empty for a middling one."""
    if years < YOUNG_YEARS:
        return "young"
    return "old" if years > OLD_YEARS else ""


def _is_covered(kind: str, found: dict[str, Proposal]) -> bool:
    """Whether a symptom that was found already says this: repeated clicks are ticks, not one."""
    if DEAD in found and kind in IMPLIED_BY_DEAD:
        return True
    return any(other in found for other in SAID_BY.get(kind, ()))


DENIES = (
    ("never_starts", "starts_then_stops"),
    ("indicator_none", "indicator_steady"),
    ("indicator_none", "indicator_blinks"),
    ("picture_none", "picture_black_lit"),
    ("picture_wrong", "picture_black_lit"),
    ("backlight_none", "backlight_flashes"),
    ("sound_none", "sound_fine"),
    ("restarts", "starts_then_stops"),
    ("dies_warm", "starts_then_stops"),
    ("tapping_helps", "starts_then_stops"),
    ("plug_moves", "starts_then_stops"),
)
"""Symptoms that a set does not show together: what a phrase says plainly stands."""


def _denied(kind: str, found: dict[str, Proposal]) -> bool:
    return any(
        (kind == one and other in found) or (kind == other and one in found)
        for one, other in DENIES
    )


def _rate(text: str) -> float | None:
    for pattern, power in vocabulary().rates:
        match = re.search(pattern, text)
        if match:
            number = float(match[1].replace(",", ".")) if match.groups() else 1.0
            return float(number**power) if number > 0 else None
    return None


def proposal_words(proposal: Proposal) -> str:
    """The mapping in words: “red light on” → indicator lit and steady."""
    meant = history_words(proposal.kind) if proposal.is_history else symptom_words(proposal.kind)
    rate = f", about {proposal.hertz:.2g} Hz" if proposal.hertz else ""
    return f"“{proposal.phrase}” → {meant}{rate}"
