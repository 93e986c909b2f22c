"""A make-up as a recipe: blocks with their volts, the printed connectors, loads and signals.

Net names inside are the composer's; every pin of every printed connector has its own label and
number. A pin whose label is not understood hangs on a net of its own and gives no instruction.
"""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.boards.compose import BlockUse, Json, Legend, Recipe
from loose_rail.boards.mains import mains_of
from loose_rail.boards.own.make_up import MakeUp, OwnBoard, OwnConnector, meanings
from loose_rail.boards.own.pin_label import PinJob, PinMeaning
from loose_rail.boards.profile import Pin

NO_SIGNAL = ""
LED_WATTS_PER_INCH = 0.9
MAIN_WATTS, MAIN_WATTS_PER_INCH = 45.0, 2.2
"""Beside the backlight, and with it [E]."""
PLASMA_MAIN_WATTS, PLASMA_BOOST_WATTS = 90.0, 420
"""Of a plasma set's logic and address supply, and of all together [E]."""
LEAST_STANDBY_WATTS = 12.0
MAIN_LOAD_WATTS, SINGLE_LOAD_WATTS = (5.0, 14.0), (1.0, 6.0)
"""What a main board draws from the main rail, idle and with light; of a set with one supply it is
small, and its logic has rails of its own [E]."""
CLAMP_SHARE = 1.33
"""Where a driver stops climbing, over what its strings need [P]."""
GOOD_SHARE = 0.92
"""Of a standby rail: below it a processor does not run [E]."""
LED_RETRY_SECONDS = "2"
RESONANT_LEAST_SHARE, RESONANT_FULL_SHARE = 0.74, 0.9
"""Of the peak of the mains, where no boost stands before a resonant converter [E]."""
BOOSTED_VOLTS = 390.0


class _Sketch:
    """The recipe as it grows."""

    def __init__(self, own: OwnBoard, make: MakeUp) -> None:
        self.own, self.make = own, make
        self.blocks: list[BlockUse] = []
        self.loads: list[Json] = []
        self.signals: list[Json] = []
        self.nets: dict[tuple[PinJob, float], str] = {}
        self.pins = meanings(own.connectors)
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

    # ---- the primary -------------------------------------------------------------------------

    @property
    def start(self) -> str:
        """The signal that switches the main supply: none on a board that runs whenever fed."""
        return "start" if self.own.wake != "none" else NO_SIGNAL

    @property
    def watts(self) -> float:
        """What the main supply gives."""
        if self.make.sustain:
            return PLASMA_MAIN_WATTS
        return MAIN_WATTS + MAIN_WATTS_PER_INCH * self.make.inches

    def power(self) -> None:
        """Inlet, standby and main converter with their outputs."""
        make = self.make
        if make.source == "adapter":
            self.add("adapter_input", "input", {}, volts=make.main, amps="4")
            self.nets[PinJob.RAIL, make.main] = "VIN"
            self._step_down("standby", make.standby, "bulk", "VIN", feeds="inlet")
            for number, volts in enumerate(make.step_downs):
                self._step_down(f"logic{number or ''}", volts, "bulk", "VIN", feeds="inlet")
            return
        bulk = max(47.0, round(self.watts * (2.0 if self.own.mains_volts < 150 else 0.9)))
        common = {"bulk": f"{min(bulk, 330):.0f}u", "fuse": "3.15" if self.watts < 110 else "5"}
        if make.source == "boost":
            fed = "VCC_3" if make.main else "VCC_2"
            watts = PLASMA_BOOST_WATTS if make.sustain else round(1.3 * self.watts)
            boost = {"signal": self.start, "pfc_watts": watts, **common}
            self.add("boost_input", "pfc", {"VCC": fed}, **boost)
        else:
            self.add("mains_input", "input", {}, **common)
        if make.single:
            self._single()
        else:
            self._standby(make.standby, self._standby_watts(make.standby))
            if make.main:
                self._main()

    def _standby_watts(self, volts: float) -> float:
        alone = not self.make.main
        return max(LEAST_STANDBY_WATTS, 3.2 * volts, self.watts if alone else 0.0)

    def _feeds(self) -> str:
        return "boost" if self.make.source == "boost" else "rectifier"

    def _standby(self, volts: float, watts: float) -> None:
        block = "flyback_chip" if self.make.chip else "flyback_own"
        self.nets[PinJob.STANDBY, volts] = "SB"
        big = {"sense": "0R33", "primary": "700u"} if watts > 30 else {}
        amps = round(max(1.4 * watts / volts, 1.5), 1)
        self.add(
            block,
            "standby",
            {"OUT": "SB"},
            volts=volts,
            watts=watts,
            amps=amps,
            feeds=self._feeds(),
            **big,
        )

    def _single(self) -> None:
        make = self.make
        alone = not make.main
        volts = make.standby if alone else make.main
        name, net = ("standby", "SB") if alone else ("main", "MAIN")
        levels: dict[str, object] = {}
        if make.two_level:
            levels = {
                "standby_share": "0.5",
                "aux_volts": "20",
                "vcc_off": "8",
                "vcc_over": "27",
                "signal": "start",
                "rail_kind": "two_level",
            }
        elif not alone:
            levels = {"rail_kind": "regulated_main"}
        watts = self.watts * (0.6 if make.inches < 30 else 1.0)
        self.nets[PinJob.RAIL, volts] = net
        self.nets[PinJob.STANDBY, volts] = net
        self.add(
            "flyback_own",
            name,
            {"OUT": net},
            volts=volts,
            watts=round(watts),
            amps=round(1.4 * watts / volts, 1),
            word="standby" if alone else "supply",
            section="Supply",
            rail_title=f"Rail {volts:g} V",
            sense="0R33",
            primary="700u",
            feeds=self._feeds(),
            **levels,
        )
        if not alone:
            self._outputs("main", net)

    def _main(self) -> None:
        make = self.make
        self.nets[PinJob.RAIL, make.main] = "MAIN"
        low = self.own.wake == "low"
        ports = {"OUT": "MAIN", "VCCIN": "VCC_2", "SIG": "START"}
        ports |= {"WAKE": "SB", "WK": "START", "PULL": "SB"} if low else {}
        ports |= {} if low else {"WAKE": "START", "WK": "GND", "PULL": "GND"}
        params: dict[str, object] = {
            "volts": make.main,
            "watts": round(self.watts),
            "amps": round(self.watts / make.main, 1),
            "signal": self.start,
            "feeds": self._feeds(),
        }
        if make.resonant:
            if make.source != "boost":
                peak = 1.414 * self.own.mains_volts
                params["least_bulk"] = round(RESONANT_LEAST_SHARE * peak)
                params["full_bulk"] = round(RESONANT_FULL_SHARE * peak)
            self.add("resonant_fed", "main", ports, **params)
        else:
            block = "flyback_fed_sync" if make.synchronous else "flyback_fed"
            self.add(block, "main", ports, **params)
        self._outputs("main", "MAIN")

    def _outputs(self, source: str, net: str) -> None:
        """Windings and step-downs of the main converter."""
        make = self.make
        names = iter(("lamp", "second", "third", "fourth"))
        for number, volts in enumerate(make.windings):
            logic = make.single and volts == make.standby
            name = "standby" if logic else next(names)
            own = f"W{number}"
            self.nets[PinJob.RAIL, volts] = own
            if logic:
                self.nets[PinJob.STANDBY, volts] = own
            title = f"Logic rail {volts:g} V" if logic else f"Rail {volts:g} V"
            ends = {"SECW": f"SEC{own}", "OUT": own}
            kind = {"rail_kind": "quasi_regulated"} if logic else {}
            block = "winding"
            if make.resonant and not make.single:
                block, ends = "winding_full", {**ends, "SECX": f"SECX{own}"}
            more = {"volts": volts, "from": source, "cap": "1000u", "rail_title": title}
            self.add(block, name, ends, **{**more, **kind})
        for number, volts in enumerate(make.step_downs):
            logic = make.single and volts == make.standby
            name = "standby" if logic else f"logic{number or ''}"
            self._step_down(name, volts, source, net)

    def _step_down(self, name: str, volts: float, source: str, net: str, feeds: str = "") -> None:
        own = f"D{name}"
        self.nets[PinJob.RAIL, volts] = own
        if name == "standby":
            self.nets[PinJob.STANDBY, volts] = own
        kind = "regulated_standby" if name == "standby" else "dc_dc"
        params = {"volts": volts, "from": source, "amps": "3", "rail_kind": kind}
        params["rail_title"] = f"Logic rail {volts:g} V"
        if feeds:
            params["feeds"] = feeds
        self.add("buck", name, {"IN": net, "OUT": own}, **params)

    # ---- what hangs on it --------------------------------------------------------------------

    def lamps(self) -> None:
        """LED drivers, inverter, panel switch, and a plasma set's two high rails."""
        make = self.make
        feed, net, volts = self._lamp_feed()
        for number, wanted in enumerate(make.led):
            watts = LED_WATTS_PER_INCH * make.inches / len(make.led)
            self.add(
                "led_driver",
                "led" if number == 0 else f"led{number + 1}",
                {"IN": net, "SIG": self._lamps_net(net)},
                volts=wanted,
                amps=round(watts / wanted, 2),
                clamp=round(CLAMP_SHARE * wanted),
                strings=make.strings,
                retry=LED_RETRY_SECONDS,
                rail_title="LED output $volts V" if number == 0 else "LED output 2, $volts V",
                **{"from": feed, **({"feeds": "inlet"} if feed == "bulk" else {})},
            )
        if make.tubes:
            big = make.inches > 24
            self.add(
                "ccfl_inverter",
                "tubes",
                {"IN": net, "SIG": self._lamps_net(net)},
                watts=60 if big else 14,
                tubes=8 if big else 2,
                feed_volts=volts,
                **{"from": feed},
            )
        if make.panel and make.main:
            signal = "panel" if PinJob.PANEL_ENABLE in self.jobs else self.start
            sig = "PNLON" if signal == "panel" else "START"
            params = {"volts": make.main, "signal": signal, "from": "main"}
            title = f"Panel rail {make.main:g} V"
            self.nets[PinJob.PANEL, make.main] = "PNL"
            self.add(
                "rail_switch",
                "panel",
                {"IN": "MAIN", "OUT": "PNL", "SIG": sig},
                rail_title=title,
                **params,
            )

    def _lamps_net(self, feed: str) -> str:
        """Where the lamps are enabled: at the printed pin, else with the start, else with their
        feed."""
        if PinJob.LAMPS_ENABLE in self.jobs:
            return "BLON"
        return "START" if self._has_start else feed

    @property
    def _standby_net(self) -> str:
        found = (net for (job, _), net in self.nets.items() if job is PinJob.STANDBY)
        return next(reversed(list(found)), "")

    def _lamp_feed(self) -> tuple[str, str, float]:
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

    def plasma(self) -> None:
        """Sustain converter and address winding."""
        make = self.make
        if not make.sustain:
            return
        self.nets[PinJob.SUSTAIN, 0.0] = "VS"
        self.nets[PinJob.ADDRESS, 0.0] = "VA"
        signal = "sustain" if PinJob.SUSTAIN_ENABLE in self.jobs else self.start
        sig = "VSON" if signal == "sustain" else "START"
        wake = "wake:sustain" if signal == "sustain" else "wake:second"
        self.add(
            "resonant_fed",
            "sustain",
            {
                "OUT": "VS",
                "LEDF": "MAIN",
                "VCCIN": "VCC_2",
                "WAKE": sig,
                "WK": "GND",
                "SIG": sig,
                "PULL": "GND",
            },
            volts=make.sustain,
            watts="320",
            amps="2.2",
            cap="220u",
            word="sustain",
            section="Sustain",
            rail_title=f"Sustain rail {make.sustain:g} V",
            rail_kind="regulated_main",
            signal=signal,
            wake=wake,
            soft_start="1.2",
            overload="0.8",
            restart="latch",
            led_supply=make.main,
            feeds="boost",
        )
        self.add(
            "winding_full",
            "address",
            {"SECW": "SECVA", "SECX": "SECXVA", "OUT": "VA"},
            volts=make.address,
            cap="220u",
            rail_title=f"Address rail {make.address:g} V",
            **{"from": "main"},
        )

    # ---- connectors, signals, loads ----------------------------------------------------------

    def net_of(self, connector: str, number: int, pin: PinMeaning) -> str:
        """The net of a pin; one of its own where its label says nothing, or what the board does not
        have."""
        job = pin.job
        if job is PinJob.GROUND:
            return "GND"
        if job is PinJob.START and self._has_start:
            return "START"
        if job is PinJob.LAMPS_ENABLE:
            return "BLON"
        if job is PinJob.PANEL_ENABLE:
            return "PNLON"
        if job is PinJob.SUSTAIN_ENABLE and self.make.sustain:
            return "VSON"
        if job in (PinJob.SUSTAIN, PinJob.ADDRESS):
            return self.nets.get((job, 0.0), f"{connector}_{number}")
        if job is PinJob.PANEL:
            return next(
                (n for (of, _), n in self.nets.items() if of is job), f"{connector}_{number}"
            )
        if pin.volts:
            meant = dict(self.own.in_truth).get(pin.volts, pin.volts)
            for of in (job, PinJob.RAIL, PinJob.STANDBY):
                for (kind, volts), net in self.nets.items():
                    if kind is of and abs(volts / meant - 1.0) < 0.03:
                        return net
        return f"{connector}_{number}"

    @property
    def _has_start(self) -> bool:
        return PinJob.START in self.jobs

    def connectors(self) -> list[Legend]:
        """The printed connectors and what is behind each; the one that carries the standby rail or
        the start pin comes first."""
        main = self._main_plug()
        ordered = [main, *(one for one in self.own.connectors if one is not main)]
        boards = iter(("Y", "Z", "X", "W"))
        found = []
        for one in ordered:
            jobs = {self.pins[one.name, n].job for n in range(1, len(one.pins) + 1)}
            if (
                one is not main
                and jobs & {PinJob.LED_PLUS, PinJob.TUBE}
                and not jobs & {PinJob.RAIL}
            ):
                continue  # the lamps' own, part of their block
            part, load = "MB", "main board"
            if PinJob.SUSTAIN in jobs:
                letter = next(boards)
                part, load = f"{letter}B", f"{letter} drive board"
            elif PinJob.ADDRESS in jobs:
                part, load = "AB", "address drive boards"
            elif one is not main and jobs & {PinJob.PANEL}:
                part, load = "TC", "timing board"
            elif one is not main and PinJob.LAMPS_ENABLE in jobs and not self.make.tubes:
                part, load = "LP", "lamps and their inverter board"
            found.append(self._legend(one, part, load))
        return found

    def _main_plug(self) -> OwnConnector:
        def weight(one: OwnConnector) -> int:
            jobs = [self.pins[one.name, n].job for n in range(1, len(one.pins) + 1)]
            return 4 * (PinJob.STANDBY in jobs) + 4 * (PinJob.START in jobs) + len(set(jobs))

        if not self.own.connectors:
            return OwnConnector("main plug", 1, ())
        return max(self.own.connectors, key=weight)

    def _legend(self, one: OwnConnector, part: str, load: str) -> Legend:
        pins = [
            Pin(number, label, self.net_of(one.name, number, self.pins[one.name, number]))
            for number, label in enumerate(one.pins, start=1)
        ]
        return Legend(one.name, f"to the {load}", part, load, pins)

    def demands(self, legends: Sequence[Legend]) -> None:
        """Signals of the main board, and what hangs on each rail."""
        make, own = self.make, self.own
        sense = own.wake if own.wake in ("high", "low") else "high"
        good = round(GOOD_SHARE * make.standby, 2)
        first = {"rail": "standby", "good_volts": good}
        asked = "none" if self.start == NO_SIGNAL else sense
        net = "START" if self._has_start and asked != "none" else ""
        self.signals.append(
            {"id": "start", **first, "after_seconds": 0.3, "sense": asked, "net": net}
        )
        needs = f"main={make.main:g}" if make.main and not make.single else ""
        for name, job, own_net, after in (
            ("panel", PinJob.PANEL_ENABLE, "PNLON", 0.6),
            ("lamps", PinJob.LAMPS_ENABLE, "BLON", 1.1),
            ("sustain", PinJob.SUSTAIN_ENABLE, "VSON", 0.8),
        ):
            used = any(use.params.get("signal", "") == name for use in self.blocks)
            used |= name == "lamps" and bool(make.led or make.tubes)
            if job in self.jobs or used:
                printed = own_net if job in self.jobs else ""
                more = {"needs": needs} if needs else {}
                self.signals.append(
                    {
                        "id": name,
                        **first,
                        "after_seconds": after,
                        "sense": "high",
                        "net": printed,
                        **more,
                    }
                )
        ids = {signal["id"] for signal in self.signals}
        lit = "lamps" if "lamps" in ids else self.start
        self._load("MB", "standby", make.standby, 0.15, 0.5, self.start or lit)
        if make.main and make.source != "adapter":
            idle, on = SINGLE_LOAD_WATTS if make.single else MAIN_LOAD_WATTS
            self._load("MB", "main", make.main, idle / make.main, on / make.main, lit)
        parts = {legend.part for legend in legends}
        for use in self.blocks:
            volts = float(use.params.get("volts", 0) or 0)
            if use.block.startswith("winding") and use.id not in ("address", "standby"):
                self._load("MB", use.id, volts, 0.1, 0.4, lit)
            elif use.block == "buck" and use.id != "standby":
                self._load("MB", use.id, volts, 0.1, 0.5, self.start or lit)
        if make.panel and make.main:
            self._load("TC" if "TC" in parts else "MB", "panel", make.main, 0.5, 0.5, "")
        if "LP" in parts:
            feed, _, volts = self._lamp_feed()
            watts = LED_WATTS_PER_INCH * make.inches
            self._load("LP", feed, volts, 0.02, watts / volts, lit)
        drives = [p for p in ("YB", "ZB", "XB", "WB") if p in parts]
        signal = "sustain" if "sustain" in ids else self.start
        for part in drives:
            self._load(part, "sustain", make.sustain, 0.05, 0.9 / len(drives), signal)
        if "AB" in parts:
            self._load("AB", "address", make.address, 0.05, 0.5, signal)

    def _load(
        self, part: str, rail: str, volts: float, idle: float, on: float, signal: str
    ) -> None:
        amps = {"idle_amps": round(idle, 3), "on_amps": round(on, 3)}
        entry: Json = {"part": part, "rail": rail, "volts": volts, **amps}
        self.loads.append({**entry, "signal": signal} if signal else entry)

    def wake(self, legends: Sequence[Legend]) -> Json:
        """How it is woken: both pins of the jumper on the same connector, or no jumper at all."""
        sense = self.own.wake
        start = self._pin_of(legends, "START")
        source = self._pin_of(legends, self._standby_net)
        if start is None or sense == "none":
            sense = "none" if self.own.wake == "none" else "unknown"
        connector, pin = start or (legends[0].ref, 0)
        source_pin = source[1] if source and source[0] == connector else 0
        if sense == "high" and not source_pin:
            sense = "unknown"
        return {
            "sense": sense,
            "connector": connector,
            "pin": pin,
            "source_pin": source_pin,
            "series_ohms": 1000 if sense != "low" else 100,
        }

    def _pin_of(self, legends: Sequence[Legend], net: str) -> tuple[str, int] | None:
        for legend in legends:
            for pin in legend.pins:
                if net and pin.net == net:
                    return legend.ref, pin.number
        return None


def recipe_of(own: OwnBoard, make: MakeUp) -> Recipe:
    """The recipe of a board that is known by what is seen and printed."""
    sketch = _Sketch(own, make)
    sketch.power()
    sketch.lamps()
    sketch.plasma()
    legends = sketch.connectors()
    sketch.demands(legends)
    mains = mains_of(own.mains_volts)
    adapter = make.source == "adapter"
    return Recipe(
        schema="loose-rail/recipe/1",
        id=own.number,
        title=f"Board {own.number}",
        maker="",
        aliases=[],
        topology=topology_of(make),
        mains={
            "volts": 0.0 if adapter else own.mains_volts,
            "hertz": mains.hertz if mains else 50.0,
        },
        blocks=sketch.blocks,
        connectors=legends,
        wake=sketch.wake(legends),
        signals=sketch.signals,
        loads=sketch.loads,
    )


def topology_of(make: MakeUp) -> str:
    """The make-up in one line of words."""
    words = []
    if make.source == "adapter":
        words.append("adapter")
    elif make.single:
        words.append("two-level-flyback" if make.two_level else "single-flyback")
    else:
        words.append("standby-flyback")
    words += ["boost"] if make.source == "boost" else []
    if make.main and not make.single:
        words.append("resonant" if make.resonant else "main-flyback")
    words += ["led"] if make.led else []
    words += ["ccfl"] if make.tubes else []
    words += ["sustain"] if make.sustain else []
    return "+".join(words)
