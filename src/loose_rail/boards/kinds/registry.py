"""Every kind of component, one line each."""

from __future__ import annotations

from collections.abc import Mapping

from loose_rail.boards.kinds.adapter import KIND as ADAPTER
from loose_rail.boards.kinds.bridge import KIND as BRIDGE
from loose_rail.boards.kinds.ceramic import KIND as CERAMIC
from loose_rail.boards.kinds.common_mode_choke import KIND as COMMON_MODE_CHOKE
from loose_rail.boards.kinds.connector import KIND as CONNECTOR
from loose_rail.boards.kinds.controller import KIND as CONTROLLER
from loose_rail.boards.kinds.cord import KIND as CORD
from loose_rail.boards.kinds.diode import KIND as DIODE
from loose_rail.boards.kinds.electrolytic import KIND as ELECTROLYTIC
from loose_rail.boards.kinds.film import KIND as FILM
from loose_rail.boards.kinds.fuse import KIND as FUSE
from loose_rail.boards.kinds.fusible_resistor import KIND as FUSIBLE_RESISTOR
from loose_rail.boards.kinds.igbt import KIND as IGBT
from loose_rail.boards.kinds.inductor import KIND as INDUCTOR
from loose_rail.boards.kinds.kind import ComponentKind, Trait
from loose_rail.boards.kinds.led_strip import KIND as LED_STRIP
from loose_rail.boards.kinds.load import KIND as LOAD
from loose_rail.boards.kinds.mosfet_dual import KIND as MOSFET_DUAL
from loose_rail.boards.kinds.mosfet_n import KIND as MOSFET_N
from loose_rail.boards.kinds.mosfet_p import KIND as MOSFET_P
from loose_rail.boards.kinds.npn import KIND as NPN
from loose_rail.boards.kinds.ntc import KIND as NTC
from loose_rail.boards.kinds.optocoupler import KIND as OPTOCOUPLER
from loose_rail.boards.kinds.pnp import KIND as PNP
from loose_rail.boards.kinds.regulator import KIND as REGULATOR
from loose_rail.boards.kinds.relay import KIND as RELAY
from loose_rail.boards.kinds.resistor import KIND as RESISTOR
from loose_rail.boards.kinds.shunt_reference import KIND as SHUNT_REFERENCE
from loose_rail.boards.kinds.surge_suppressor import KIND as SURGE_SUPPRESSOR
from loose_rail.boards.kinds.switcher import KIND as SWITCHER
from loose_rail.boards.kinds.transformer import KIND as TRANSFORMER
from loose_rail.boards.kinds.tubes import KIND as TUBES
from loose_rail.boards.kinds.tvs import KIND as TVS
from loose_rail.boards.kinds.y_capacitor import KIND as Y_CAPACITOR
from loose_rail.boards.kinds.zener import KIND as ZENER
from loose_rail.boards.profile import Component

KINDS: Mapping[str, ComponentKind] = {
    kind.name: kind
    for kind in (
        CORD,
        ADAPTER,
        FUSE,
        NTC,
        SURGE_SUPPRESSOR,
        RESISTOR,
        ELECTROLYTIC,
        FILM,
        CERAMIC,
        Y_CAPACITOR,
        DIODE,
        BRIDGE,
        INDUCTOR,
        COMMON_MODE_CHOKE,
        TRANSFORMER,
        MOSFET_N,
        NPN,
        PNP,
        OPTOCOUPLER,
        SHUNT_REFERENCE,
        CONTROLLER,
        SWITCHER,
        CONNECTOR,
        FUSIBLE_RESISTOR,
        ZENER,
        TVS,
        MOSFET_P,
        MOSFET_DUAL,
        IGBT,
        RELAY,
        REGULATOR,
        LED_STRIP,
        TUBES,
        LOAD,
    )
}
"""By name; the order is that of lists."""


def kind_of(part: Component) -> ComponentKind:
    """The kind of a part. Raises KeyError for one that is not known: `validate` tells it before."""
    return KINDS[part.kind]


def is_a(part: Component, trait: Trait) -> bool:
    """Whether a part is of a kind with a trait."""
    return trait in KINDS[part.kind].traits


def kind_words(name: str) -> str:
    """A kind in plain words."""
    return KINDS[name].words
