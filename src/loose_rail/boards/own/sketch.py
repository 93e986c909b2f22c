"""A recipe as it grows: blocks, nets, signals and loads of a board that is being composed."""

from __future__ import annotations

from loose_rail.boards.compose import BlockUse, Json
from loose_rail.boards.own.make_up import MakeUp, OwnBoard, meanings
from loose_rail.boards.own.pin_label import PinJob

NO_SIGNAL = ""
LED_WATTS_PER_INCH = 0.9
MAIN_WATTS, MAIN_WATTS_PER_INCH = 45.0, 2.2
"""Beside the backlight, and with it [E]."""
PLASMA_MAIN_WATTS, PLASMA_BOOST_WATTS = 90.0, 420
"""Of a plasma set's logic and address supply, and of all together [E]."""
SMALL_INCHES, SMALL_SHARE = 30.0, 0.6
"""A small set with one supply needs so much of it [E]."""
SMALL_TUBES_INCHES, SMALL_TUBES_WATTS, LARGE_TUBES_WATTS = 24.0, 14.0, 60.0
"""Monitors have two tubes or four, televisions eight and more [E]."""
BOARD_WATTS, SPARE_TIMES = 20.0, 1.4
"""Main board with its amplifier, and what a supply can give over what hangs on it [E]."""
LEAST_STANDBY_WATTS = 12.0
MAIN_LOAD_WATTS, SINGLE_LOAD_WATTS = (5.0, 14.0), (1.0, 6.0)
"""What a main board draws from the main rail, idle and with light; of a set with one supply it is
small, and its logic has rails of its own [E]."""
CLAMP_SHARE = 1.33
"""Where a driver stops climbing, over what its strings need [P]."""
GOOD_SHARE, GOOD_SHARE_OF_FIVE = 0.92, 0.88
"""Of a standby rail: below it a processor does not run; one of 5 V and more is brought to 3.3 V
on the main board first, which leaves it some way to go [E]."""
MADE_DOWN_FROM_VOLTS = 4.5
LED_RETRY_SECONDS = "2"
RESONANT_LEAST_SHARE, RESONANT_FULL_SHARE = 0.74, 0.9
"""Of the peak of the mains, where no boost stands before a resonant converter [E]."""


class Sketch:
    """The recipe as it grows."""

    def __init__(self, own: OwnBoard, make: MakeUp) -> None:
        self.own, self.make = own, make
        self.blocks: list[BlockUse] = []
        self.loads: list[Json] = []
        self.signals: list[Json] = []
        self.nets: dict[tuple[PinJob, float], str] = {}
        self.pins = meanings(own)
        self.jobs = {pin.job for pin in self.pins.values()}

    def add(self, block: str, name: str, ports: dict[str, str], **params: object) -> int:
        """One more block; returns the number that its designators begin with."""
        number = len(self.blocks) + 1
        texts = {
            key: f"{value:g}" if isinstance(value, float) else str(value)
            for key, value in params.items()
        }
        self.blocks.append(BlockUse(block, name, number, texts, ports))
        return number

    @property
    def start(self) -> str:
        """The signal that switches the main supply: none on a board that runs whenever fed."""
        return "start" if self.own.wake != "none" else NO_SIGNAL

    @property
    def watts(self) -> float:
        """What the main supply gives."""
        if self.make.sustain:
            return PLASMA_MAIN_WATTS
        usual = MAIN_WATTS + MAIN_WATTS_PER_INCH * self.make.inches
        if self.make.single and self.make.inches < SMALL_INCHES:
            usual *= SMALL_SHARE
        return max(usual, SPARE_TIMES * (self.lamp_watts + BOARD_WATTS))

    @property
    def lamp_watts(self) -> float:
        """What tubes and strips on this supply take."""
        make = self.make
        tubes = LARGE_TUBES_WATTS if make.inches > SMALL_TUBES_INCHES else SMALL_TUBES_WATTS
        lit = tubes * make.tubes + LED_WATTS_PER_INCH * make.inches * bool(make.led)
        if lit or make.sustain:
            return lit
        return tubes if make.tubes_elsewhere else LED_WATTS_PER_INCH * make.inches

    @property
    def lamps_elsewhere(self) -> bool:
        """Whether what lights the panel is a board of its own, fed from a rail of this one."""
        make = self.make
        return not (make.led or make.tubes or make.sustain or make.source == "adapter")

    def feeds(self) -> str:
        return "boost" if self.make.source == "boost" else "rectifier"

    @property
    def has_start(self) -> bool:
        return PinJob.START in self.jobs

    @property
    def start_net(self) -> str:
        """The net that starts the main supply: the printed pin's, else the standby rail. Without a
        printed pin nothing is named, or jumpered."""
        return "START" if self.has_start else "SB"

    @property
    def standby_net(self) -> str:
        found = (net for (job, _), net in self.nets.items() if job is PinJob.STANDBY)
        return next(reversed(list(found)), "")

    def lamp_feed(self) -> tuple[str, str, float]:
        """The rail that lamps hang on: the highest below 40 V."""
        make = self.make
        if make.source == "adapter":
            return "bulk", "VIN", make.main
        if not make.main:
            return "standby", "SB", make.standby
        best = ("main", "MAIN", make.main)
        names = iter(("lamp", "second", "third", "fourth"))
        for number, volts in enumerate(make.windings):
            if make.single and volts == make.standby:
                continue
            name = next(names)
            if best[2] < volts <= 40.0:
                best = (name, f"W{number}", volts)
        return best

    def load(self, part: str, rail: str, volts: float, idle: float, on: float, signal: str) -> None:
        amps = {"idle_amps": round(idle, 3), "on_amps": round(on, 3)}
        entry: Json = {"part": part, "rail": rail, "volts": volts, **amps}
        self.loads.append({**entry, "signal": signal} if signal else entry)

    def lamps_net(self, feed: str) -> str:
        """Where the lamps are enabled: at the printed pin, else with the start, else with their
        feed."""
        if PinJob.LAMPS_ENABLE in self.jobs:
            return "BLON"
        return "START" if self.has_start else feed

    def standby_watts(self, volts: float) -> float:
        alone = not self.make.main
        return max(LEAST_STANDBY_WATTS, 3.2 * volts, self.watts if alone else 0.0)
