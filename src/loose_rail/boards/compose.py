"""A board profile put together from blocks: a recipe names blocks, their rails and connectors.

A block (data/blocks.json) is a piece of a topology as a template: parts, nets, roles, probe points,
sections of the map, its stage of the live model. In its texts `$name` is a parameter, `#` the
block's own id, `{C1}` the designator that its part gets, and `@rule` a value worked out from the
rail voltage (see `component_rules`). Ports are the nets that the recipe joins to others; `defaults`
name the net of the block that a port is where the recipe leaves it out.
"""

from __future__ import annotations

import re
from functools import cache
from importlib import resources
from typing import Any

import msgspec

from loose_rail.boards.component_rules import (
    REFLECTED_VOLTS,
    RESONANT_REFLECTED_VOLTS,
    RULES,
    winding_henries,
)
from loose_rail.boards.profile import Pin
from loose_rail.kernel.errors import BoardFileError
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.roles import BoardRole, Job, role

SHARED_NETS = frozenset({"HV", "HGND", "GND", "VIN"})
LOAD_SECTION = "loads"
_REF = re.compile(r"^([A-Z]+)(\d+)$")
_WORD = re.compile(r"\$\{?([a-z_0-9]+)\}?|\{([A-Z]+\d+)\}|#")

Json = dict[str, Any]


LAMPS_STRESS, DRIVE_STRESS = 2.5, 3.5
"""Tubes, their transformers and the switches that drive them, and the drive boards of a plasma
panel with their switches at hundreds of volts, fail more often than a board that only computes
[E]."""


def _stress(load: str) -> Json:
    """How hard a board behind a connector is driven, as a field of its part."""
    stress = LAMPS_STRESS if load.startswith("lamps") else DRIVE_STRESS if "drive" in load else 0.0
    return {"stress": stress} if stress else {}


class BlockUse(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A block in a recipe: its id, the number its designators begin with, parameters, ports."""

    block: str
    id: str
    number: int
    params: dict[str, str] = {}
    ports: dict[str, str] = {}


class Legend(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A connector, the part behind it and its pins; `only_fed` where that part is a board that the
    connector brings rails to, and nothing else."""

    ref: str
    title: str
    part: str
    load: str
    pins: list[Pin]
    rows: int = 0
    around: bool = False
    only_fed: bool = False


class Recipe(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A board as blocks; docs/formats.md has the format. `raw` fields go into the profile as is."""

    schema: str
    id: str
    title: str
    maker: str
    aliases: list[str]
    topology: str
    mains: Json
    blocks: list[BlockUse]
    connectors: list[Legend]
    wake: Json
    signals: list[Json]
    loads: list[Json]


@cache
def blocks() -> dict[str, Json]:
    """Every block by name."""
    text = resources.files("loose_rail.boards").joinpath("data/blocks.json").read_bytes()
    decoded: dict[str, Json] = msgspec.json.decode(text)
    return decoded


def compose(recipe: Recipe) -> Json:
    """The profile as plain data, to be decoded and validated like a file.

    Raises BoardFileError for an unknown block.
    """
    made = _Made(recipe)
    for use in recipe.blocks:
        if use.block not in blocks():
            raise BoardFileError(
                f"{recipe.id} uses the block “{use.block}”, which is not known.",
                f"Known: {', '.join(blocks())}.",
            )
        made.add(use)
    for legend in recipe.connectors:
        made.connect(legend)
    return made.profile()


class _Made:
    """The profile as it grows."""

    def __init__(self, recipe: Recipe) -> None:
        self.recipe = recipe
        self.nets: dict[str, Json] = {}
        self.parts: dict[str, Json] = {}
        self.sections: list[Json] = []
        self.rails: list[Json] = []
        self.roles: dict[str, list[str]] = {}
        self.points: list[Json] = []
        self.stages: list[Json] = []
        self.links: list[list[Any]] = []
        self.connectors: list[Json] = []

    # ---- blocks ----------------------------------------------------------------------------

    def add(self, use: BlockUse) -> None:
        block = blocks()[use.block]
        fill = _Filler(use, block)
        for name, net in fill(block["nets"]).items():
            self.nets.setdefault(fill.net(name), {"name": fill.net(name), **net})
        self._add_parts(fill, block)
        for section in fill(block["sections"]):
            refs = [fill.ref(name) for name in section.pop("parts")]
            for side in ("before", "after"):
                section[side] = [fill.ref(name) for name in section.get(side, [])]
            for ref in refs:
                self.parts[ref]["section"] = section["id"]
            if not any(one["id"] == section["id"] for one in self.sections):
                self.sections.append(section)
        for template, names in block["roles"].items():
            key = fill(template)
            refs = [fill.ref(name) for name in names]
            self.roles.setdefault(key.removesuffix("+"), []).extend(refs)
        for point in fill(block["points"]):
            self.points.append(
                {
                    **point,
                    "plus": fill.net(point["plus"]),
                    "minus": fill.net(point["minus"]),
                    "stop": fill.ref(point["stop"]),
                }
            )
        self._add_rails(fill, block)
        for stage in block["stages"] if "stages" in block else [block["stage"]]:
            filled = {"id": use.id, **fill(stage)}
            filled["volts"] = float(filled.get("volts") or 0)
            self.stages.append(filled)
        for link in fill(block["co_failures"]):
            self.links.append([fill.ref(link[0]), link[1], fill.ref(link[2]), *link[3:]])

    def _add_parts(self, fill: _Filler, block: Json) -> None:
        for part in fill(block["parts"]):
            ref = fill.ref(part["ref"])
            pins = {pin: fill.net(net) for pin, net in part["pins"].items()}
            self.parts[ref] = {**part, "ref": ref, "pins": pins}
        for port in ("SECW", "SECX"):
            if port in fill.use.ports:
                self._add_winding(fill, port)

    def _add_winding(self, fill: _Filler, port: str) -> None:
        """Another winding on the transformer of the converter that this block hangs on."""
        parent = fill.params["from"]
        ref = self.roles[f"{parent}.transformer"][0]
        transformer = self.parts[ref]
        number = len(transformer["pins"]) // 2
        ground, pin = fill.net("GND"), fill.net(port)
        transformer["pins"] |= {f"w{number}1": ground, f"w{number}2": pin}
        self.nets.setdefault(pin, {"name": pin, "side": "cold", "where": f"{ref} pin w{number}2"})
        primary = component_value(transformer["params"]["henries"].split()[0])
        volts = component_value(fill.params["volts"])
        transformer["params"]["ohms"] += " 0R04"
        resonant = any(s["id"] == parent and s["kind"] == "resonant" for s in self.stages)
        reflected = RESONANT_REFLECTED_VOLTS if resonant else REFLECTED_VOLTS
        transformer["params"]["henries"] += f" {winding_henries(primary, volts, reflected)}"

    def _add_rails(self, fill: _Filler, block: Json) -> None:
        for rail in fill(block.get("rails", [])):
            self.rails.append(
                {
                    **rail,
                    "volts": float(rail["volts"]),
                    "net": fill.net(rail["net"]),
                    "section": f"{fill.use.id}_out",
                    "stops": [fill.ref(name) for name in rail["stops"]],
                }
            )

    # ---- connectors ------------------------------------------------------------------------

    def connect(self, legend: Legend) -> None:
        """A connector with the board behind it; its rails and signals become probe points."""
        nets = {pin.net: pin for pin in reversed(legend.pins)}
        for net, pin in nets.items():
            where = f"{legend.ref} pin {pin.number}"
            ground = net == "GND"
            if ground and self.connectors:
                continue  # the first connector's: that is where the other probe is
            self.nets[net] = {
                "name": net,
                "side": "cold",
                "where": f"{where}, ground" if ground else where,
            }
        pins = {str(pin.number): net for net, pin in nets.items()}
        last = self.sections[-1]["id"]
        self.parts[legend.ref] = {
            "ref": legend.ref,
            "kind": "connector",
            "pins": pins,
            "section": last,
            "duty": legend.title,
        }
        behind = {number: net for number, net in pins.items() if net != "GND"}
        silent = BoardRole.MAIN_LOAD in self.roles
        wakes = [one.get("signal", "") for one in self.recipe.loads if one["part"] == legend.part]
        signals = {"signals": "none"} if silent else {}
        woken = {"wakes": next(filter(None, wakes))} if any(wakes) else {}
        self.parts.setdefault(
            legend.part,
            {
                "ref": legend.part,
                "kind": "load",
                "pins": behind,
                "section": LOAD_SECTION,
                "duty": legend.load,
                "params": signals | woken | self._main_rail(legend) | self._given(silent),
                **_stress(legend.load),
            },
        )
        self.roles[role(legend.part, Job.CONNECTOR)] = [legend.ref]
        self.roles.setdefault(BoardRole.CONNECTOR, [legend.ref])
        self.roles.setdefault(BoardRole.MAIN_LOAD, [legend.part])
        self.connectors.append(
            {
                "ref": legend.ref,
                "title": legend.title,
                "load": legend.load,
                "pins": [msgspec.to_builtins(pin) for pin in legend.pins],
                "rows": legend.rows,
                "around": legend.around,
            }
        )
        self._connector_points(legend, nets)

    def _main_rail(self, legend: Legend) -> dict[str, str]:
        """The rail that a board with several draws most from, if it is not its first, and the one
        after it."""
        own = [one for one in self.recipe.loads if one["part"] == legend.part]
        most = sorted(own[1:], key=lambda one: -one["volts"] * one["on_amps"])
        first = own[0]["volts"] * own[0]["on_amps"] if own else 0.0
        found = {}
        if most and most[0]["volts"] * most[0]["on_amps"] > first:
            found["main_rail"] = most[0]["rail"]
            if len(most) > 1:
                found["second_rail"] = most[1]["rail"]
        return found

    def _given(self, silent: bool) -> dict[str, str]:
        """Which enables the main board gives beside the start signal, as parameters of it."""
        if silent:
            return {}
        given = [one["id"] for one in self.recipe.signals if one.get("sense") != "none"]
        return {f"gives_{name}": "yes" for name in given if name != "start"}

    def _connector_points(self, legend: Legend, nets: dict[str, Pin]) -> None:
        signals = {signal["id"]: signal.get("net", "") for signal in self.recipe.signals}
        for net, pin in nets.items():
            where = f"{pin.label}, {legend.ref}-{pin.number}"
            base = {
                "plus": net,
                "minus": "GND",
                "mode": "dc_volts",
                "stop": legend.ref,
                "minutes": 0.7,
            }
            for rail in self.rails:
                if rail["net"] != net or rail["kind"] == "led_string":
                    continue
                observable = f"{rail['id']}.out"
                self.points = [p for p in self.points if p["observable"] != observable]
                point = {"id": f"{rail['id']}_pin", "title": where, "observable": observable}
                self.points.append({**point, **base, "rail": rail["id"]})
            for name, own in signals.items():
                if own == net:
                    point_id = name if name == "start" else f"{name}_signal"
                    point = {"id": point_id, "title": where, "observable": name}
                    self.points.append({**point, **base})

    def _hot_section(self, stage_id: str) -> str:
        """The section before the barrier that a rail comes from in the end."""
        stages = {stage["id"]: stage for stage in self.stages}
        drawn = {section["id"] for section in self.sections if section["side"] == "hot"}
        while stage_id not in drawn and stage_id in stages:
            stage_id = stages[stage_id].get("source", "")
        return stage_id if stage_id in drawn else str(self.sections[0]["id"])

    # ---- the whole -------------------------------------------------------------------------

    def profile(self) -> Json:
        recipe = self.recipe
        loads = {
            "id": LOAD_SECTION,
            "title": "Loads",
            "subtitle": recipe.connectors[0].load,
            "side": "cold",
            "feeds_from": self.sections[-1]["id"],
        }
        fuse = self.roles.get(BoardRole.INPUT_FUSE, [""])[0]
        fields = ("cause", "cause_mode", "effect", "effect_mode", "probability", "reason")
        links = [
            dict(zip(fields, [fuse if item == "F!" else item for item in link], strict=True))
            for link in self.links
        ]
        self.nets.setdefault("GND", {"name": "GND", "side": "cold", "where": ""})
        hot = any(net["side"] == "hot" for net in self.nets.values())
        for rail in self.rails:
            rail["section"] = self._hot_section(rail["id"])
        order = [section["id"] for section in self.sections]
        self.rails.sort(key=lambda rail: order.index(rail["section"]))  # a converter's together
        return {
            "schema": "loose-rail/board/1",
            "id": recipe.id,
            "title": recipe.title,
            "maker": recipe.maker,
            "aliases": recipe.aliases,
            "topology": recipe.topology,
            "mains": recipe.mains,
            "hot_ground": "HGND" if hot else "GND",
            "cold_ground": "GND",
            "nets": list(self.nets.values()),
            "sections": [*self.sections, loads],
            "components": list(self.parts.values()),
            "rails": self.rails,
            "connectors": self.connectors,
            "live_points": self.points,
            "wake": recipe.wake,
            "roles": self.roles,
            "co_failures": links,
            "stages": self.stages,
            "signals": [{k: v for k, v in s.items() if k != "net"} for s in recipe.signals],
            "loads": recipe.loads,
        }


class _Filler:
    """Fills the texts of one block in."""

    def __init__(self, use: BlockUse, block: Json) -> None:
        self.use = use
        self.params: dict[str, str] = {**block["params"], **use.params}
        self.defaults: dict[str, str] = block.get("defaults", {})

    def ref(self, local: str) -> str:
        """The designator of a part of the block; `F1!` is the fuse of the input."""
        if local.endswith("!"):
            return "F!"
        match = _REF.match(local)
        assert match is not None, local
        return f"{match[1]}{self.use.number}{int(match[2]):02d}"

    def net(self, local: str) -> str:
        """The net that a local name stands for."""
        if local in self.use.ports:
            return self.use.ports[local]
        if local in self.defaults:
            return self.net(self.defaults[local])
        return local if local in SHARED_NETS else f"{local}_{self.use.number}"

    def __call__(self, item: Any) -> Any:
        if isinstance(item, str):
            return self._text(item)
        if isinstance(item, list):
            return [self(inner) for inner in item]
        if isinstance(item, dict):
            return {key: self(value) for key, value in item.items()}
        return item

    def _text(self, text: str) -> str:
        if text.startswith("@"):
            return RULES[text[1:]](self.params)
        return _WORD.sub(self._word, text)

    def _word(self, match: re.Match[str]) -> str:
        if match[1]:
            value = self.params[match[1]]
            return self._text(value) if "$" in value else value
        return self.ref(match[2]) if match[2] else self.use.id
