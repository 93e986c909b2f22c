"""`loose-rail make-board`: a board of one's own from its kind, its printed pins and its parts."""

from __future__ import annotations

import argparse
import json
import re
import sys
from typing import Any

import msgspec

from loose_rail.boards.own.board import Composed
from loose_rail.boards.own.file import (
    SCHEMA,
    OwnBoardFile,
    TrueVolts,
    board_of_file,
    composed,
    encoded,
    same_pinout,
    with_line,
)
from loose_rail.boards.own.pin_label import PinJob
from loose_rail.boards.own.say import doubts_of, make_up_lines, pin_words
from loose_rail.boards.profile import Board
from loose_rail.kernel.errors import BoardFileError, UsageError
from loose_rail.kernel.files import write_durably

_VOLTS = re.compile(r"^\s*([^:]+):\s*(.+)$")
_ON = re.compile(r"\bon\s+(\d+(?:[.,]\d+)?)\s*V?\b", re.IGNORECASE)
_STANDBY = re.compile(r"\bstandby\s+(\d+(?:[.,]\d+)?)\s*V?\b", re.IGNORECASE)


def make_board(options: argparse.Namespace) -> int:
    """Compose a board, say what was understood and what was not, and write its file. Raises
    BoardFileError and UsageError."""
    missed: list[str] = []
    own = OwnBoardFile(
        schema=SCHEMA,
        id=options.number,
        aliases=options.alias,
        kind=options.kind,
        set_kind=options.set,
        mains_volts=options.mains,
        wake=options.start,
        connectors=[same_pinout(line) for line in options.connector],
        true_volts=[one for text in options.volts for one in _true_volts(text, missed)],
    )
    made = composed(own)
    for text in options.bind:
        try:
            own, _ = with_line(own, text)
        except BoardFileError as error:
            missed.append(error.one_line())
    board = board_of_file(own)
    try:
        write_durably(options.out, encoded(own))
    except OSError as error:
        raise UsageError(f"{options.out} can't be written: {error.strerror}.") from error
    answer = _answer(own, board, made, missed)
    sys.stdout.write(
        json.dumps(answer, ensure_ascii=False) + "\n" if options.json else _words(answer, board)
    )
    return 0


def _true_volts(text: str, missed: list[str]) -> list[TrueVolts]:
    """“12V: standby 0, on 12.8”: a label and what stands there. What stands in standby follows from
    the make-up."""
    match = _VOLTS.match(text)
    printed = re.search(r"\d+(?:\.\d+)?", match[1].replace(",", ".")) if match else None
    stands = _ON.search(match[2]) if match else None
    if match is None or printed is None or stands is None:
        missed.append(f"“{text}” names no label with its volts: type 12V: standby 0, on 12.8")
        return []
    asleep = _STANDBY.search(match[2])
    if asleep and float(asleep[1].replace(",", ".")) not in (
        0.0,
        float(stands[1].replace(",", ".")),
    ):
        missed.append(f"“{text}”: what a rail stands at in standby follows from its make-up")
    label, volts = float(printed[0]), float(stands[1].replace(",", "."))
    return [TrueVolts(label, volts)] if label != volts else []


def _answer(own: OwnBoardFile, board: Board, made: Composed, missed: list[str]) -> dict[str, Any]:
    pins = [
        {
            "connector": plug.name,
            "pin": number,
            "label": label,
            "means": str(made.pins[plug.name, number].job),
            "volts": made.pins[plug.name, number].volts,
            "words": pin_words(own, made.pins[plug.name, number]),
        }
        for plug in own.plugs
        for number, label in enumerate(plug.pins, start=1)
    ]
    unknown = [
        f"{pin['connector']} pin {pin['pin']} “{pin['label']}”: not known, it gives no instruction"
        for pin in pins
        if pin["means"] == str(PinJob.UNKNOWN) and pin["label"]
    ]
    return {
        "schema": "loose-rail/made-board/1",
        "number": own.id,
        "topology": board.topology,
        "understood": make_up_lines(made.make),
        "assumed": list(made.make.assumed),
        "not_understood": [*unknown, *missed],
        "ask": doubts_of(own, made),
        "pins": pins,
        "wake": msgspec.to_builtins(board.wake),
        "parts": [
            {"ref": part.ref, "job": part.duty or part.ref, "kind": part.kind, "value": part.value}
            for part in board.components
            if part.kind != "load"
        ],
    }


def _words(answer: dict[str, Any], board: Board) -> str:
    lines = [f"{answer['number']}: {answer['topology']}, {len(answer['parts'])} parts"]
    lines += [f"  {one}" for one in answer["understood"]]
    lines += [f"  assumed: {one}" for one in answer["assumed"]]
    for pin in answer["pins"]:
        lines.append(
            f"  {pin['connector']} pin {pin['pin']}  {pin['label'] or '?'}: {pin['words']}"
        )
    lines += [f"  not understood: {one}" for one in answer["not_understood"]]
    lines += [f"  to look at: {one}" for one in answer["ask"]]
    wake = board.wake
    if wake.sense in ("high", "low"):
        lines.append(f"  start pin: {wake.connector} pin {wake.pin}, active {wake.sense}")
    else:
        lines.append(f"  start pin: sense {wake.sense}; nothing is jumpered")
    return "\n".join(lines) + "\n"
