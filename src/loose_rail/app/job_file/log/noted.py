"""What the note beside a reading tells: that it took long, what was seen there, that it answered to
a touch, that the fault was there meanwhile."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.entries import Read
from loose_rail.app.job_file.log.points import Place, pin_of
from loose_rail.app.job_file.log.situation_words import FAILING
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.diagnosis.evidence.runs import runs_clue
from loose_rail.diagnosis.evidence.soft_evidence import finding_key
from loose_rail.diagnosis.evidence.tapped import tapped_clue
from loose_rail.diagnosis.inference.in_fault import in_fault_clue
from loose_rail.diagnosis.inference.stood_still import still_clue
from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.roles import BoardRole


def seen_there(teller: Teller, entry: Read, place: Place) -> None:
    """What a note tells that is seen at the part: “body split”."""
    key = finding_key(entry.note) if _LOOKS.search(entry.note) else ""
    parts = place.parts or ((place.probe.part,) if place.probe and not place.probe.live else ())
    teller.referents.mention(parts, f"{entry.at}; {entry.text}; {entry.note}")
    if key and key != "nothing_seen" and len(parts) == 1:
        teller.record(ev.FindingNoted(parts[0], key))
        teller.sighted = parts[0]
        teller.understand(f"“{entry.note}” → {teller.name(parts[0])}: {key.replace('_', ' ')}")


_LOOKS = re.compile(
    r"\b(split|cracked|burnt|burned|charred|domed|bulg\w+|swollen|leaked|blackened|blown|crater|"
    r"brown(ed)?|discolou?red|body|top)\b",
    re.IGNORECASE,
)


def beside_it(
    teller: Teller, entry: Read, candidate: str, state: BoardState, seen: Observation
) -> None:
    """What a live reading tells beside its volts: that it took long to come up, that the fault was
    there meanwhile, that the set was lit."""
    if _slow(entry) and "starts_slowly" not in teller.symptoms:
        teller.symptoms.add("starts_slowly")
        teller.record(ev.SymptomNoted("starts_slowly", entry.text))
    loops = "restarts" in teller.symptoms and _STEADY.search(f"{entry.text} {entry.note}")
    if seen.form is Form.VALUE and _STEADY.search(entry.note):
        words = f"{entry.at}: {seen.text()}, steady"
        teller.aside(still_clue(teller.table, candidate, seen, words), entry.number)
    _answers_there(teller, entry)
    touched = _WHEN_TOUCHED.search(entry.note) and re.search(r"\d ?v\b", entry.note, re.IGNORECASE)
    stays = teller.fell_in is teller.situation and _STAYS.search(entry.note)
    if teller.situation.failing or FAILING.search(entry.note) or loops or touched or stays:
        words = f"{entry.at}: {seen.text()}, while the fault was there"
        clue = in_fault_clue(teller.table, candidate, seen, f"{entry.number}", words)
        teller.aside(clue, entry.number)
    if state.power is Power.ON and not teller.situation.without and _LIT.search(entry.note):
        teller.aside(runs_clue(teller.table, entry.note, True), entry.number)


_STAYS = re.compile(
    r"^(it )?(stays|stayed|holds|held|stands|stood|remains|keeps|is there all the time)\b|"
    r"\b(does|did) ?n['o]t (move|fall|drop|dip|go)\b",
    re.IGNORECASE,
)
"""What stands while another point was seen to fall: the fault was there."""
_WHEN_TOUCHED = re.compile(
    r"\b(when|while|if|as) (it is |it.s |the \w+ is )?"
    r"(pushed|pressed|tapped|rocked|moved|bent|knocked|squeezed|wiggled|touched|warmed|cooled)\b",
    re.IGNORECASE,
)
"""What stands there then is another reading: the first was taken while the fault was there."""
TWICE = re.compile(
    r"\b(both|either|all) (ways?|directions?)\b|\bwhichever way\b|"
    r"\b(checked|measured|read|tried|looked) (it )?(again|twice)\b|\bsecond (meter|look|try)\b",
    re.IGNORECASE,
)
"""The leads were set anew, with the same result."""
_WHEN_MOVED = re.compile(
    r"\b(?:when|while|if|as) (?:the |its )?(?P<what>[\w -]{3,24}?) (?:is|was|gets) "
    r"(?P<how>pushed|pressed|tapped|rocked|moved|bent|knocked|squeezed|wiggled|touched|flexed|"
    r"twisted|prodded|shaken)\b(?: (?:near|at|by|round|around|beside|over) (?:the )?"
    r"(?P<at>[\w -]{3,24}))?",
    re.IGNORECASE,
)


_WHEN_KNOCKED = re.compile(
    r"\b(when|with|on|at|after) (it is |i |one |a |each |every )*"
    r"(knock|tap|hit|slam|slap|shake|shak|bump|thump)(ped|ed|ing|s|en)?\b",
    re.IGNORECASE,
)
_ITS_PLUG = re.compile(r"(plug|connector|socket|header|cable|pins?|it)", re.IGNORECASE)


def _answers_there(teller: Teller, entry: Read) -> None:
    """A reading that changes as a named part is moved: a contact there comes and goes."""
    found = _WHEN_MOVED.search(entry.note)
    knocked = _WHEN_KNOCKED.search(entry.note)
    if found is None and knocked and "tapping_helps" not in teller.symptoms:
        teller.symptoms.add("tapping_helps")
        teller.record(ev.SymptomNoted("tapping_helps", entry.note))
        teller.understand(f"“{entry.note}” → tapping or moving it changes it")
    if found is None:
        return
    parts = (found["at"] and teller.parts(found["at"])) or teller.parts(found["what"])
    pin = pin_of(teller.board, entry.at)
    refs = {part.ref for part in teller.board.components}
    if pin is not None and pin[0] in refs and _ITS_PLUG.fullmatch(found["what"].strip()):
        parts = [pin[0]]
    if not parts and re.search(r"\b(lead|cord|cable|plug)\b", found["what"], re.IGNORECASE):
        parts = list(teller.board.roles.get(BoardRole.CORD, []))
    if parts:
        teller.aside(tapped_clue(teller.table, parts, entry.note), entry.number)
        teller.understand(f"“{entry.note}” → it answers to a touch at {teller.name(parts[0])}")


_STEADY = re.compile(
    r"\bsteady\b|\bstable\b|\bthe whole time\b|\bthroughout\b|\brock solid\b|"
    r"\b(does|do) ?n['o]t (move|budge|dip)|\bnever (dips|moves|drops)|\bdoes not (move|budge|dip)",
    re.IGNORECASE,
)
"""So a rail stands that was watched over more than one round of a loop."""
_LIT = re.compile(
    r"\b(light|picture|backlight)\b (is )?(even|on|lit|bright|there|good|fine)\b|"
    r"\blit\b",
    re.IGNORECASE,
)


_RISE = re.compile(
    r"\b(?:climb|ris|creep|comes up|builds up)\w*\b[^,;]*?\b(?:in|over|within|for|takes) "
    r"(?:about |some )?(\d+(?:[.,]\d+)?) ?(s|sec|seconds?|min|minutes?)\b",
    re.IGNORECASE,
)
SLOW_SECONDS = 5.0
"""A supply that takes longer to come up starts slowly [P]."""


def _slow(entry: Read) -> bool:
    """Whether a reading tells that the point took long to come up."""
    found = _RISE.search(entry.text) or _RISE.search(entry.note)
    if found is None:
        return False
    seconds = float(found[1].replace(",", ".")) * (60.0 if found[2].startswith("m") else 1.0)
    return seconds > SLOW_SECONDS
