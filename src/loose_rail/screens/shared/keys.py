"""Every key of the application as data: F1 lists it, a test looks for clashes."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Key:
    """A key, what it does, and where it works: window, shelf, job or bench (empty line)."""

    sequence: str
    action: str
    words: str
    scope: str


KEYS = (
    Key("F1", "help", "These keys", "window"),
    Key("F2", "shelf", "The shelf", "window"),
    Key("F3", "take_in", "Take in a set", "window"),
    Key("Ctrl+Shift+N", "window", "One more window, for another job", "window"),
    Key("Ctrl+M", "meters", "Meters, sounds, foot switch", "window"),
    Key("F11", "full_screen", "Full screen", "window"),
    Key("F12", "theme", "Daylight or night", "window"),
    Key("Ctrl+Q", "quit", "Close; everything is on disk already", "window"),
    Key("Ctrl+Z", "undo", "Take back", "job"),
    Key("Ctrl+Shift+Z", "redo", "Put back", "job"),
    Key("Ctrl+P", "print", "Print or save the report", "job"),
    Key("Ctrl+N", "note", "Write a note at this stage", "job"),
    Key("Ctrl+T", "trace", "Readings in time: zoom, markers, files", "job"),
    Key("F10", "foot", "Foot switch: do what is next", "job"),
    Key("Ctrl+G", "photos", "Photographs; drop files on any page", "job"),
    *(Key(f"Ctrl+{k % 10}", f"stage_{k - 1}", f"Stage {k}", "job") for k in range(1, 11)),
    Key("/", "find", "Find words in all jobs", "shelf"),
    Key("Enter", "enter", "Take the reading, or do what the button says", "bench"),
    Key("M", "live", "Live meter on or off: readings are taken when settled", "bench"),
    Key("Space", "meter", "Take the reading from the meter; hold it while live", "bench"),
    Key("B", "confirm", "The board is as the card says", "bench"),
    Key("N", "skip", "Can't reach this point", "bench"),
    Key("O", "other", "Other probes", "bench"),
    Key("T", "tests", "How this part is tested, and what good and bad read here", "bench"),
    Key("L", "loads", "Load by load", "bench"),
    Key("H", "seen", "Seen and heard", "bench"),
    Key("E", "ends", "Both ends of a cable", "bench"),
    Key("W", "wake", "Waking the board", "bench"),
    Key("U", "unplugged", "The plug is pulled", "bench"),
    Key("Z", "undo", "Take back", "bench"),
)
