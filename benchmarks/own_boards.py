"""Boards that no book has, known by their make-up and their printed legend alone."""

from __future__ import annotations

from loose_rail.boards.own.file import SCHEMA, OwnBoardFile

OWN_BOARDS = (
    OwnBoardFile(
        SCHEMA,
        "LB-1",
        kind="standby flyback, main flyback, LED driver 60 V",
        set_kind="LED 32 inch",
        wake="high",
        connectors=["CN3/2: 12V, 12V, GND, GND, 5VSB, PS-ON, BL-ON, DIM", "CN5: LED+, LED-"],
    ),
    OwnBoardFile(
        SCHEMA,
        "LB-2",
        kind="standby flyback, PFC, LLC, LED driver 110 V",
        set_kind="LED 55 inch",
        wake="high",
        connectors=[
            "CN1/2: 24V, 24V, GND, GND, 12V, 12V, 3V3SB, PS-ON, BL-ON, DIM",
            "CN7: LED+, LED-",
        ],
    ),
    OwnBoardFile(
        SCHEMA,
        "LB-3",
        kind="flyback",
        set_kind="monitor 24 inch",
        connectors=["P1: 14V, GND, 5V, GND, ON/OFF"],
    ),
    OwnBoardFile(
        SCHEMA,
        "LB-4",
        kind="standby flyback, PFC, LLC",
        set_kind="LCD 40 inch",
        wake="high",
        connectors=["CN9/2: 5VSB, GND, 12V, 12V, GND, 24V, 24V, GND, PS-ON, BL-ON"],
    ),
)
