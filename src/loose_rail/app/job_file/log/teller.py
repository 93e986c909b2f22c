"""Who tells a job: the board and its predictions, what has been told so far, and where it goes."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from loose_rail.app.job_file.log.human_value import HumanValue
from loose_rail.app.job_file.log.referents import Referents
from loose_rail.app.job_file.log.said_kind import of_the_said_kind
from loose_rail.app.job_file.log.situation import Situation
from loose_rail.app.job_file.notes import Notes
from loose_rail.app.job_file.readings import Told
from loose_rail.boards.kinds.registry import kind_of
from loose_rail.boards.parts_named import OUTPUT_CHOKE, may_mean, parts_named
from loose_rail.diagnosis.dossier import Beside
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.inference.judged import judged
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import extended, fold
from loose_rail.jobs.observations import reading_event
from loose_rail.jobs.state import JobState
from loose_rail.judgement.judge import Verdict
from loose_rail.kernel.observation import Observation
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, state_of
from loose_rail.vocabulary.keys import stage_of

DESIGNATOR = re.compile(r"\b(?!CN\d|[XY][12]\b|T\d+A\b)[A-Z]{1,3}\d{1,4}[A-Z]?\b")
"""As printed beside a part; a connector's is a place of its own."""
_BETWEEN_THAT = re.compile(
    r"\b(between|from) (that|this|these|those|it|them)\b.*\b(and|to)\b", re.IGNORECASE
)
"""“The resistor between that transistor and VCC”: by its neighbours, which no list knows."""
_BESIDE = re.compile(
    r"\b(?:under|below|beneath|beside|next to|near|behind|close to|opposite|above)\b"
    r"(?: the)? [A-Z]{1,3}\d{1,4}\b"
)
"""Where a part sits is not the part."""
_ORDINALS = {
    **{"first": 0, "1st": 0, "second": 1, "2nd": 1, "other": 1, "next": 1},
    **{"third": 2, "3rd": 2, "fourth": 3, "4th": 3, "last": -1},
}
_COUNTED = re.compile(
    r"(the )?(first|second|third|1st|2nd|3rd|other|upper|lower|left|right)\b", re.IGNORECASE
)
"""It tells which of several is meant, and not the one before."""
_ONE_OF_SEVERAL = re.compile(
    rf"(?:the )?({'|'.join(_ORDINALS)})\b.*?\b(?:chain|them|row|pair|one|string)\b", re.IGNORECASE
)
_PART = r"(can|cap|capacitor|elko|electrolytic|part|resistor|diode|disc|switch|transistor|chip|one)"
_AS_SEEN = re.compile(
    rf"(the |that )?(domed|bulg(ed|ing)|swollen|burnt|burned|split|cracked|leak(ing|ed|y)|blown|"
    rf"black(ened)?|brown(ed)?|discolou?red|suspect|same) {_PART}$|(the |that )?disc$|"
    rf"(the |that )(green|blue|yellow|orange|red|round) ({_PART}|thing)$",
    re.IGNORECASE,
)
_ITS_OTHER = re.compile(
    rf"(the |its )?(other|second|good|healthy|flat) {_PART}( (next to|beside|near) (it|that))?$",
    re.IGNORECASE,
)
NOUNS = {"R": "resistor", "C": "capacitor", "D": "rectifier", "Q": "switch", "L": "choke"}
"""What a designator's letter stands for where there is no doubt."""
PREFIXES = {
    **dict.fromkeys(("CX", "XC"), "X capacitor"),
    **dict.fromkeys(("CY", "YC"), "Y capacitor"),
    **dict.fromkeys(("RV", "MOV", "VDR", "VZ"), "varistor"),
    **dict.fromkeys(("BD", "DB", "BR"), "bridge rectifier"),
    **dict.fromkeys(("NTC", "TH", "RT"), "inrush limiter"),
    **dict.fromkeys(("PC", "OC", "OK"), "optocoupler"),
    **dict.fromkeys(("RY", "RL", "RLY"), "relay"),
    **dict.fromkeys(("ZD", "DZ"), "zener"),
    **dict.fromkeys(("LF", "FL"), "line filter"),
}
"""What a designator of two letters or three stands for where no other word says it: an X capacitor
is no reservoir."""
HANDLED = (
    "resistor",
    "fusible_resistor",
    "diode",
    "zener",
    "inductor",
    "optocoupler",
    "npn",
    "pnp",
)
"""Kinds of which a board has several: words that name no more mean the one in hand."""
INSTRUMENT = "job file"
BENCH = "job file"


def _letters(designator: str) -> str:
    return re.split(r"\d", designator)[0]


class Teller:
    """Events and clues as they are told. `told` are the readings in words, by their number in the
    ledger; `topic` is the stage that was last read."""

    def __init__(
        self, table: PredictionTable, notes: Notes, opened: ev.Record | None = None
    ) -> None:
        """`opened` is the first record of a job of the window, which is followed from there."""
        self.table, self.board, self.notes = table, table.board, notes
        self.situation = Situation()
        self.symptoms: set[str] = set()
        self.several: list[str] = []
        self.keys = frozenset(candidate.key for candidate in table.candidates)
        self.besides: list[Beside] = []
        self.told: list[Told] = []
        self.elsewhere = ""
        """The other board that was read just now, in its words: “behind that fuse” is there."""
        self.read_at: dict[str, HumanValue] = {}
        """The last reading at each place, by its words: “still ticks” is that again."""
        self.unmoved: set[str] = set()
        """Loads that were unplugged and changed nothing."""
        self.warmed: tuple[str, ...] = ()
        """What was warmed or cooled last: “the same place” is that."""
        self.last: tuple[str, BoardState] | None = None
        self.markings: dict[str, float] = {}
        self.last_esr_at = ""
        self.windings: list[tuple[str, str, float]] = []
        """Windings that were read: the place, which of the transformer's, ohms."""
        self.bound: dict[str, str] = {}
        self.nowhere: dict[str, str] = {}
        """What designators were told to be that this model does not have."""
        refs = {part.ref for part in table.board.components}
        known = table.board.known_by in ("profile", "own")
        self.designators = {ref for ref in refs if known and DESIGNATOR.fullmatch(ref)}
        self._names = Names(table.board)
        self.referents = Referents(table.board)
        self.topic = ""
        self.handled = ""
        """The small part that was read or lifted last: “the resistor” is that again."""
        self.sighted = ""
        self.on_tester = False
        """The strips are said to be on a tester."""
        self.fell_in: Situation | None = None
        self.at_main: tuple[Situation, float] | None = None
        """What the start signal read at the main board, and in which situation."""
        """The part at which something was seen last: “the domed can”."""
        self._stages: dict[str, set[str]] = {}
        for role, holders in table.board.roles.items():
            for ref in holders:
                self._stages.setdefault(ref, set()).add(stage_of(role))
        self.follows = opened is not None
        self.sequence, self.at = 1, ""
        first = ev.JobOpened("", "", table.board.id, "", 0.0, "EUR")
        self._records: list[ev.Record] = [opened or ev.Record(1, "", BENCH, first)]
        self.job: JobState = fold(self._records)
        wake = table.board.wake
        if self.follows:
            return
        if wake.sense in ("high", "low"):  # the file says how it starts, by pins that were read
            self.record(ev.PinsConfirmed(wake.connector, wake.pin, wake.source_pin))

    def record(self, event: ev.AnyEvent) -> None:
        """An event of the job."""
        self.sequence = self.sequence if self.follows else len(self._records) + 1
        self._append(ev.Record(self.sequence, self.at, BENCH, event))

    def follow(self, record: ev.Record) -> None:
        """An event that was no telling: the job and the board are as it left them."""
        if isinstance(record.event, ev.StateConfirmed):
            self.situation = replace(self.situation, state=state_of(record.event.state))
        if isinstance(record.event, ev.SymptomNoted):
            self.symptoms.add(record.event.symptom)
        self._append(record)

    def _append(self, record: ev.Record) -> None:
        self._records.append(record)
        self.job = extended(self.job, self._records)

    @property
    def records(self) -> tuple[ev.Record, ...]:
        """The whole log as the window would have kept it."""
        return tuple(self._records)

    def read(self, probe: str, state: BoardState, seen: Observation, number: int) -> None:
        """A reading of the ledger."""
        self.record(reading_event(probe, state, seen, INSTRUMENT, ""))
        at = next(c.probe for c in self.table.candidates if c.probe.id == probe)
        title, rail = at.title, self.board.rail_of(at.rail)
        if not at.live and self.board.component(at.part).kind in HANDLED:
            self.handled = at.part
        stages = (stage_of(at.observable),) if rail else tuple(self._stages.get(at.part, ()))
        self.topic = stages[0] if len(stages) == 1 and stages[0] else self.topic
        self.told.append(Told(len(self.job.readings), f"{title}, {state.label}: {seen.text()}"))
        self.last = (probe, state)

    def bring(self, found: Situation | None) -> None:
        """The board is in another situation from here on; None says nothing."""
        if found is None:
            return
        self.situation = found
        if found.known is not None:
            self.record(ev.StateConfirmed(self.nearest(found.known).key))

    def begin_anew(self) -> None:
        """What was read before a reset that helped, and not as a good board reads, was of a latched
        set: it no longer counts."""
        for reading in self.job.live_readings:
            _, judgement = judged(self.table, reading)
            if reading.state.plugged and judgement.verdict is not Verdict.AGREES:
                self.record(ev.Voided(reading.sequence, "read while the set was latched"))

    def aside(self, clue: Clue, number: int) -> None:
        """A clue that no event tells, in the round that the job is in."""
        self.besides.append(Beside(clue, self.job.round))

    def understand(self, words: str) -> None:
        """Say what was made of an entry."""
        self.notes.understood.append(words)

    def leave(self, what: object, why: str) -> None:
        """Say what could not be used."""
        self.notes.leave(what, why)

    def name(self, ref: str) -> str:
        """A part in words."""
        return self._names.part(ref)

    def nearest(self, state: BoardState) -> BoardState:
        """The state itself, or the nearest that the model knows."""
        known = (UNPLUGGED, *live_states(self.board))
        if state in known:
            return state
        return max(
            live_states(self.board),
            key=lambda one: (
                one.power is state.power,
                one.main_cable == state.main_cable,
                one.without == state.without,
                one.lamp_watts == state.lamp_watts,
            ),
        )

    def rail_read(self, probe: str) -> str:
        """The rail that a probe reads; empty where it reads none."""
        return next((c.probe.rail for c in self.table.candidates if c.probe.id == probe), "")

    def parts(self, text: str) -> list[str]:
        """The parts that words mean. A designator that was told with a part's job is that part's
        from then on; one that was not is the only part of its letter, or none."""
        if self.referents.points_to_unknown(text):
            return []
        if _BETWEEN_THAT.search(text):
            self.referents.mention_unknown(text)
            return []
        pointed = self.referents.meant(text)
        if pointed:
            return pointed
        text = self.referents.with_its_owner(text)
        found = self._parts(text)
        self.referents.mention(found, text)
        return found

    def _parts(self, text: str) -> list[str]:
        beside = _BESIDE.search(text)
        if beside and beside.start() and parts_named(self.board, text[: beside.start()]):
            text = text[: beside.start()]
        if self.sighted and _AS_SEEN.match(text.strip()):
            return [self.sighted]
        if self.sighted and _ITS_OTHER.match(text.strip()):
            return self._beside_the_sighted()
        designators = DESIGNATOR.findall(text)
        known = self._known_by_name(designators)
        if known is not None:
            return known
        counted = _COUNTED.match(text.strip())
        handled = self.handled and not designators and counted is None
        if handled and may_mean(self.board, text, self.handled):
            return [self.handled]
        found = self._of_topic(self._named(text, designators))
        found = of_the_said_kind(self.board, text, found)
        if len(found) > 1 and len(designators) == 1:
            taken = set(self.bound.values())
            free = [ref for ref in found if ref not in taken]
            found = free if 0 < len(free) < len(found) else found  # the other of its name
        if len(found) == 1 and len(designators) == 1:
            self.bound[designators[0]] = found[0]
        if len(found) > 1:
            self.several = found
        if found or not designators:
            return found or self._one_of_several(text)
        return self._only_of_its_letter(designators[0], text)

    def _known_by_name(self, designators: Sequence[str]) -> list[str] | None:
        """The part that a designator stands for, or none where it is one that the model does not
        have; None where that is not known yet."""
        for name in designators:
            if name in self.nowhere:
                return []
            if name in self.bound:
                return [self.bound[name]]
            if name in self.designators:
                return [name]
        return None

    def _only_of_its_letter(self, designator: str, text: str) -> list[str]:
        letters = _letters(designator)
        if OUTPUT_CHOKE.search(text):  # this board has none: its only choke is the boost's
            self.nowhere[designator] = text.replace(designator, "").strip(" ,")
        if letters in PREFIXES or designator in self.nowhere:
            return []
        alike = [p.ref for p in self.board.components if letters in kind_of(p).letters]
        return alike if len(alike) == 1 else []

    def is_its_twin(self, text: str) -> bool:
        """“The flat one next to it”, of a part that is one here: the twin of what was seen."""
        return bool(self.sighted) and _ITS_OTHER.match(text.strip()) is not None

    def _beside_the_sighted(self) -> list[str]:
        """The others with the job of the part that was seen; none where the board has only it."""
        own = [refs for refs in self.board.roles.values() if self.sighted in refs and len(refs) > 1]
        return [ref for refs in own for ref in refs if ref != self.sighted]

    def _one_of_several(self, text: str) -> list[str]:
        """“Second of the chain”: one of those that were last told together."""
        match = _ONE_OF_SEVERAL.match(text.strip())
        if match is None:
            return []
        number = _ORDINALS[match[1].lower()]
        return self.several[number : number + 1] if number >= 0 else self.several[-1:]

    def _named(self, text: str, designators: list[str]) -> list[str]:
        """The parts that words mean; beside a designator only those that its letter can be."""
        plain = DESIGNATOR.sub(" ", text) if designators else text
        found = parts_named(self.board, plain)
        prefix = PREFIXES.get(_letters(designators[0])) if designators else None
        if prefix is not None:
            return found or parts_named(self.board, f"{prefix} {plain}")
        letter = designators[0][0] if designators else ""
        if letter not in NOUNS or (found and all(self._may_be(ref, letter) for ref in found)):
            return found
        again = parts_named(self.board, f"{NOUNS[letter]} {plain}")
        return [ref for ref in again if self._may_be(ref, letter)] or found

    def _may_be(self, ref: str, letter: str) -> bool:
        return any(one.startswith(letter) for one in kind_of(self.board.component(ref)).letters)

    def _of_topic(self, found: list[str]) -> list[str]:
        """Of parts of several stages that words don't tell apart, those of the stage that was last
        read, or of what makes its rail."""
        stage = self.board.stage(self.topic) if self.topic else None
        while stage is not None:
            own = [ref for ref in found if stage.id in self._stages.get(ref, ())]
            if own:
                return own
            stage = self.board.stage(stage.source)  # a winding is regulated by its converter
        return found

    @staticmethod
    def marked(code: str) -> float | None:
        """A resistor's marking as ohms: 1R5, 10k, 1002, 105; None where it is none."""
        text = code.strip()
        if text.isdecimal() and len(text) in (3, 4):
            return float(text[:-1]) * 10.0 ** int(text[-1])
        try:
            return component_value(text.upper().replace("K", "k").replace("M", "M"))
        except ValueError:
            return None

    def spread(self, clues: Sequence[Clue], where: str) -> Clue:
        """One clue of several that may each be meant: their likelihoods averaged."""
        if len(clues) == 1:
            return clues[0]
        log = np.log(np.mean([np.exp(clue.log) for clue in clues], axis=0))
        told = clues[0].words
        came = told.partition(": ")[2] or told[max(told.find("measured"), 0) :]
        words = f"{where}, one of {len(clues)} parts: {came}"
        return Clue(clues[0].key, clues[0].family, words, clues[0].reason, log)
