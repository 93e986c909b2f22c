"""Qt's own test driver, untyped: its stubs take its static methods for methods of an instance."""

from __future__ import annotations

from typing import Any

from PyQt6 import QtTest

QTest: Any = QtTest.QTest
