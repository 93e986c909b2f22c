"""Every key of the application as data: F1 lists them all, a test looks for clashes.

A page binds the keys of its scope by their actions (`page_keys`); a key that no page binds, or an
action without a key, fails when the page is made.
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.app.guides.registry import GUIDES
from loose_rail.app.settings import CHOICES
from loose_rail.screens.shared.areas import AREAS
from loose_rail.vocabulary.stage import Stage


@dataclass(frozen=True, slots=True)
class Key:
    """A key, what it does, and where it works: a scope of `SCOPES`."""

    sequence: str
    action: str
    words: str
    scope: str


SCOPES = {
    "window": "Everywhere",
    "shelf": "On the shelf",
    "job": "In a job",
    "bench": "At the entry line, empty",
    "take_in": "Take in",
    "papers": "Numbers and papers",
    "strip_down": "Strip down",
    "look_over": "Look over",
    "rework": "Rework",
    "power_up": "Power up",
    "photos": "Photographs",
    "recording": "Readings in time",
    "stores": "Stores",
    "workings": "Workings",
    "meters": "Meters",
    "new_job": "A new set",
    "board_book": "Board book",
}
"""Where keys work, in the order in which they are listed, with their titles."""
IN_A_JOB = (
    "bench",
    "take_in",
    "papers",
    "strip_down",
    "look_over",
    "rework",
    "power_up",
    "photos",
    "recording",
)
"""Pages on which the keys of a job work too."""

KEYS = (
    Key("F1", "help", "These keys", "window"),
    *(Key(area.key, area.name, area.words, "window") for area in AREAS if area.key),
    Key("F3", "take_in", "Take in a set", "window"),
    Key("Ctrl+Shift+N", "window", "One more window, for another job", "window"),
    Key("F11", "full_screen", "Full screen", "window"),
    Key("F12", "theme", "Daylight or night", "window"),
    Key("Ctrl+Q", "quit", "Close; everything is on disk already", "window"),
    Key("Ctrl+Z", "undo", "Take back", "job"),
    Key("Ctrl+Shift+Z", "redo", "Put back", "job"),
    Key("Ctrl+P", "print", "Print the report", "job"),
    Key("Ctrl+S", "save", "Save the report as PDF or web page", "job"),
    Key("Ctrl+N", "note", "Write a note at this stage", "job"),
    Key("Ctrl+B", "board", "The board: pins, parts, what it is made of", "job"),
    Key("Ctrl+T", "trace", "Readings in time: zoom, markers, files", "job"),
    Key("F10", "foot", "Foot switch: do what is next", "job"),
    Key("Ctrl+G", "photos", "Photographs; drop files on any page", "job"),
    *(Key(f"Ctrl+{(one.position + 1) % 10}", f"stage:{one}", one.label, "job") for one in Stage),
    Key("R", "came_back", "A set came back: a new job with its record", "shelf"),
    Key("/", "find", "Find words in all jobs", "shelf"),
    Key("Enter", "enter", "Take the reading, or do what the button says", "bench"),
    Key("=", "name_part", "Say what is printed beside the part: =C952 1000u 25V", "bench"),
    Key("M", "live", "Continuous reading on or off: taken when settled", "bench"),
    Key("Space", "meter", "Take the reading from the meter; hold it while it runs", "bench"),
    Key("B", "confirm", "The board is as the card says", "bench"),
    Key("N", "skip", "Can't reach this point", "bench"),
    Key("O", "other", "Other probes", "bench"),
    *(Key(one.letter, one.key, one.words, "bench") for one in GUIDES.values()),
    Key("U", "unplugged", "The plug is pulled", "bench"),
    Key("Z", "undo", "Take back", "bench"),
    Key("F4", "papers", "Numbers, accessories, customer", "take_in"),
    Key("F5", "check:0", "First check, first answer", "take_in"),
    Key("F6", "check:1", "First check, second answer", "take_in"),
    Key("F7", "check:2", "Second check, first answer", "take_in"),
    Key("F8", "check:3", "Second check, second answer", "take_in"),
    Key("F9", "timer", "Time the 30 s reset", "take_in"),
    Key("F4", "back", "Back to what counts as evidence", "papers"),
    Key("F5", "order", "Order by the next number", "papers"),
    Key("F6", "copy", "Copy the text for a seller", "papers"),
    Key("F9", "turn", "Put back, in reverse", "strip_down"),
    Key("A", "rest", "Nothing to be seen on the rest", "look_over"),
    Key("=", "name", "Say what is printed beside the part: =C952 1000u 25V", "look_over"),
    Key("Space", "meter", "Volts across the reservoir from the meter", "rework"),
    Key("1", "method:0", "It comes off the usual way", "rework"),
    Key("2", "method:1", "It comes off the second way", "rework"),
    Key("3", "method:2", "It comes off the third way", "rework"),
    Key("F9", "action", "Replace it, reflow its joints, or tighten its contacts", "rework"),
    Key("F4", "line", "Type a limiter, or a word on the soak", "power_up"),
    Key("F5", "ok", "Soak: begin, or looked and it runs as it should", "power_up"),
    Key("F6", "again", "Read the same point again", "power_up"),
    Key("F7", "end", "End the soak", "power_up"),
    Key("F9", "next", "The next limiter of this bench", "power_up"),
    Key("F5", "files", "Add files", "photos"),
    Key("F6", "compare", "Compare", "photos"),
    Key("F7", "mark", "Mark the cross as what is typed; C952 = 12 V reservoir names it", "photos"),
    Key("F8", "book", "Into the book of this board", "photos"),
    Key("F5", "follow", "Follow the newest", "recording"),
    Key("F6", "csv", "Save as CSV", "recording"),
    Key("F7", "png", "Save as PNG", "recording"),
    Key("F9", "sheet", "Put what is seen on the job's sheet", "recording"),
    Key("F8", "log", "Read another meter's log", "recording"),
    Key("F5", "take", "Take the cheapest set", "stores"),
    Key("F7", "list", "Take a price list in", "stores"),
    Key("F8", "orders", "Save the order list", "stores"),
    Key("F9", "undo", "Take the last change back", "stores"),
    Key("F5", "code", "Read a marking", "workings"),
    Key("F6", "copy", "Copy the working", "workings"),
    Key("F5", "search", "Search the ports", "meters"),
    Key("F7", "meter", "Make it meter A", "meters"),
    Key("F8", "second_meter", "Make it meter B", "meters"),
    *(Key(one.key, one.setting, one.title, "meters") for one in CHOICES),
    Key("F4", "photos", "Photographs of the board, or parts", "board_book"),
    Key("F5", "files", "Add photographs", "board_book"),
    Key("F6", "map", "Rail map or parts", "board_book"),
    Key("F7", "import", "Take a board in from a file", "board_book"),
    Key("F8", "export", "Write this board as a file", "board_book"),
    Key("F9", "missing", "What is missing, and what it costs", "board_book"),
    Key("F9", "around", "Count the pins the other way", "new_job"),
)


def keys_of(scope: str) -> tuple[Key, ...]:
    """The keys of a scope, in order."""
    return tuple(key for key in KEYS if key.scope == scope)
