"""Errors with a stable code, a sentence for the person and a hint that says what to do.

What the world did (a bad file, a silent meter) is a `LooseRailError`; a bug is any other
exception and is never caught in its name. docs/errors.md explains each code.
"""

from __future__ import annotations


def printable(words: str) -> str:
    """Words on one line: what is no letter or sign of it (a line break of a foreign file, half of a
    pair) stands as a space."""
    return words if words.isprintable() else "".join(c if c.isprintable() else " " for c in words)


class LooseRailError(Exception):
    """Something outside the program went wrong and the person can act on it.

    `code` is stable, `message` says what happened, `hint` says what to do next.
    """

    code = "LR000"

    def __init__(self, message: str, hint: str = "") -> None:
        super().__init__(message)
        self.message = printable(message)
        self.hint = printable(hint)

    def one_line(self) -> str:
        """Code, message and hint in one line, as the command line prints it."""
        text = f"{self.code}: {self.message}"
        return f"{text} {self.hint}" if self.hint else text


class BadEntryError(LooseRailError):
    """What was typed cannot be read."""

    code = "LR101"


class WrongUnitError(BadEntryError):
    """The unit typed does not fit what the probe measures."""

    code = "LR102"


class BoardFileError(LooseRailError):
    """A board profile is missing, damaged or contradicts itself."""

    code = "LR201"


class CircuitError(LooseRailError):
    """A circuit cannot be solved as it stands; says why in the words of the bench."""

    code = "LR301"


class NetlistError(CircuitError):
    """A netlist file cannot be read or solved; says file, line and what to do."""

    code = "LR302"


class UnsafeStepError(LooseRailError):
    """A step was refused because a safety precondition is not met."""

    code = "LR401"


class StoreError(LooseRailError):
    """The shop's database cannot be read or written."""

    code = "LR501"


class StoreLockedError(StoreError):
    """Another program holds the database."""

    code = "LR502"


class StoreReadOnlyError(StoreError):
    """The database or its folder cannot be written."""

    code = "LR503"


class StoreNewerError(StoreError):
    """The database was written by a newer version of the program."""

    code = "LR504"


class StoreDamagedError(StoreError):
    """The file is not a database of this program, or it is damaged."""

    code = "LR505"


class StoreConflictError(StoreError):
    """Another window or program wrote to the same job first."""

    code = "LR507"


class JobError(LooseRailError):
    """An event does not fit the state of the job."""

    code = "LR601"


class MeterError(LooseRailError):
    """The meter is off, silent, slow or talks rubbish."""

    code = "LR701"


class MeterTalkError(MeterError):
    """The meter answered, but no reading: rubbish, or a setting that it does not have."""

    code = "LR702"


class TraceError(LooseRailError):
    """A log of readings can't be read or written."""

    code = "LR703"


class PhotoError(LooseRailError):
    """A photograph can't be read, kept or found."""

    code = "LR506"


class BundleError(LooseRailError):
    """A job bundle can't be written or read, or holds what no job has."""

    code = "LR508"


class UsageError(LooseRailError):
    """The command line cannot be understood, or names a file that is not there."""

    code = "LR801"


def words_of_error(error: Exception) -> str:
    """An error of the world in its own words; a bug as it is, so that it can be reported."""
    if isinstance(error, LooseRailError):
        return error.one_line()
    return f"{type(error).__name__}: {error}"
