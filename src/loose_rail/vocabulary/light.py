"""What eyes see of a repaired set that is switched on: its light and its picture."""

from __future__ import annotations

from enum import StrEnum


class Light(StrEnum):
    """What is seen, in the order of the keys 1 to 7."""

    RIGHT = "right"
    DARK = "dark"
    MOMENT = "moment"
    FLICKERS = "flickers"
    DIM = "dim"
    NO_PICTURE = "no_picture"
    UNSEEN = "unseen"

    @property
    def label(self) -> str:
        """As a person would say it."""
        return _LABELS[self]

    @property
    def is_bad(self) -> bool:
        """Whether it says that the set does not work as it should."""
        return self not in (Light.RIGHT, Light.UNSEEN)

    @property
    def runs(self) -> bool:
        """Whether it is seen of a set only that comes on."""
        return self not in (Light.DARK, Light.UNSEEN)

    @property
    def symptom(self) -> str:
        """The symptom that it is; empty where it is none, or several may be meant."""
        return _SYMPTOMS.get(self, "")


_LABELS = {
    Light.RIGHT: "light even and steady, picture right",
    Light.DARK: "stays dark",
    Light.MOMENT: "lights up, then goes dark",
    Light.FLICKERS: "flickers or pulses",
    Light.DIM: "dim, or a part of it dark",
    Light.NO_PICTURE: "light, but no or a wrong picture",
    Light.UNSEEN: "can't be seen here",
}
_SYMPTOMS = {
    Light.DARK: "backlight_none",
    Light.MOMENT: "backlight_flashes",
    Light.FLICKERS: "picture_flickers",
    Light.DIM: "picture_dim",
    Light.NO_PICTURE: "picture_none",
}


def light_of(text: str) -> Light | None:
    """What was typed: a number from 1, or its words; None for anything else."""
    plain = " ".join(text.lower().split())
    every = tuple(Light)
    if plain.isdecimal() and 1 <= int(plain) <= len(every):
        return every[int(plain) - 1]
    return next((one for one in every if plain in (one.label, str(one))), None)
