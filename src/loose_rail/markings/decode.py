"""Every reading of a marking, the likeliest first: on which kind of part it stands decides most."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from loose_rail.kernel.errors import BadEntryError
from loose_rail.markings.bands import bands_of, fuse_bands, resistor_bands
from loose_rail.markings.capacitor import capacitor
from loose_rail.markings.fuse import fuse
from loose_rail.markings.inductor import inductor
from loose_rail.markings.reading import MarkReading
from loose_rail.markings.resistor import rkm_resistor, smd_resistor

Reader = Callable[[str], list[MarkReading]]
HINTS: dict[str, tuple[Reader, ...]] = {
    "resistor": (rkm_resistor, resistor_bands, smd_resistor),
    "bands": (resistor_bands,),
    "smd": (smd_resistor,),
    "capacitor": (capacitor,),
    "inductor": (inductor,),
    "fuse": (fuse, fuse_bands),
}
"""What a marking is read as, by what the person says it stands on."""
ANY: tuple[Reader, ...] = (
    fuse,
    resistor_bands,
    smd_resistor,
    rkm_resistor,
    capacitor,
    inductor,
    fuse_bands,
)
LONGEST = 60


def decode(text: str, hint: str = "") -> list[MarkReading]:
    """Every reading of a marking, the likeliest first. Raises BadEntryError where there is none."""
    if len(text) > LONGEST:
        raise BadEntryError("That is too long for a marking.", "Type what stands on the part.")
    readers = HINTS[hint] if hint else ANY
    found: dict[tuple[object, ...], MarkReading] = {}
    for place, reader in enumerate(readers):
        for one in reader(text):
            moved = one.ranked(10 * one.rank + place)
            if one.same not in found or moved.rank < found[one.same].rank:
                found[one.same] = moved
    if not found:
        raise BadEntryError(
            f"“{text.strip()}” is no marking that is known here.", _hint(text, hint)
        )
    return sorted(found.values(), key=lambda one: one.rank)


def _hint(text: str, hint: str) -> str:
    if hint == "bands" or bands_of(text.split()[0] if text.split() else ""):
        return "Name three to six colours, such as “ye vi rd gd” or “yellow violet red gold”."
    examples: Sequence[str] = ("4K7", "103", "68X", "104K", "2A104J", "107A", "T3.15AL250V")
    return f"Read the letters again; markings look like {', '.join(examples)}."
