"""The simulated meter: a process that speaks SCPI on a loopback socket, as a real meter would.

Besides the meter's own commands it takes BENCH commands, which stand for the hands at the bench:
BENCH:STATE key, BENCH:PROBE plus,minus,observable, BENCH:LIFT, BENCH:FIT part; and for mishaps
BENCH:HANGUP seconds (the line is cut and stays so) and BENCH:BABBLE n (rubbish for n readings). A
second meter stays clipped across the bulk. It prints `port N` and `second M` when ready. Where its
environment holds a password, a line is cut that has not told it.
Run: python -m loose_rail.practice.meter_server --board PB-4310-2 --fault C21:dried:1
"""

from __future__ import annotations

import argparse
import math
import os
import socketserver
import sys
import threading
import time
from collections.abc import Callable

from loose_rail.boards.faults import fault_from_key
from loose_rail.boards.load import shipped_board
from loose_rail.practice.bench import SimulatedBench
from loose_rail.practice.password import PASSWORD_NAME, unlocking
from loose_rail.vocabulary.meter_mode import MeterMode

IDENTITY = "Loose Rail,Simulated bench meter,0001,1.0"
OVERLOAD = "+9.90000000E+37"
READING_SECONDS = 0.2
LONGEST_LINE_BYTES, MOST_ERRORS = 4096, 20
"""Longer lines are no SCPI; an error queue holds a few and then says that it ran over (SCPI-99,
volume 1, 7.2) [E]."""
QUICK_SECONDS = 0.02
"""The second meter's pause in quick time: only the first one's readings let that time pass."""

_MODES = {
    "VOLT:DC": MeterMode.DC_VOLTS,
    "VOLT:AC": MeterMode.AC_VOLTS,
    "VOLT": MeterMode.DC_VOLTS,
    "RES": MeterMode.OHMS,
    "DIOD": MeterMode.DIODE,
    "CONT": MeterMode.CONTINUITY,
    "CAP": MeterMode.CAPACITANCE,
    "ESR": MeterMode.ESR,
    "LEDS": MeterMode.STRIP,
    "TUBE": MeterMode.TUBE,
}


class VirtualClock:
    """Seconds that pass only by readings: makes tests quick and repeatable."""

    def __init__(self) -> None:
        self.seconds = 0.0

    def __call__(self) -> float:
        return self.seconds

    def sleep(self, seconds: float) -> None:
        """Let time pass."""
        self.seconds += seconds


class ScpiMeter:
    """Interprets one line at a time; knows nothing of sockets."""

    def __init__(
        self,
        bench: SimulatedBench,
        sleep: Callable[[float], None],
        watches: bool = False,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        self.bench = bench
        self.watches = watches
        self.babble = 0
        self.cut_until = 0.0
        self.mode = MeterMode.DC_VOLTS
        self.errors: list[str] = []
        self._sleep = sleep
        self._clock = clock
        self._puts, self._put_at = 0, clock()
        self._lock = threading.Lock()

    def handle(self, line: str) -> str | None:
        """The answer to a line, None for a command without one."""
        with self._lock:
            head, _, rest = line.strip().partition(" ")
            command = head.upper()
            if command == "*IDN?":
                return IDENTITY
            if command in ("*RST", "*CLS"):
                self.mode, self.errors = MeterMode.DC_VOLTS, []
                return None
            if command == "SYST:ERR?":
                return self.errors.pop(0) if self.errors else '0,"No error"'
            if command.startswith("BENCH:"):
                return self._hands(command, rest)
            return self._measure(command, line)

    def _measure(self, command: str, line: str) -> str | None:
        verb, _, function = command.rstrip("?").partition(":")
        if verb in ("CONF", "MEAS") and function in _MODES:
            self.mode = _MODES[function]
            return self._reading() if verb == "MEAS" else None
        if command in ("READ?", "FETC?"):
            return self._reading()
        self._complain(f'-113,"Undefined header; {_quoted(line.strip()[:40])}"')
        return None

    def _complain(self, error: str) -> None:
        if len(self.errors) < MOST_ERRORS:
            self.errors.append(error)
        else:
            self.errors[-1] = '-350,"Queue overflow"'

    def _reading(self) -> str:
        self._sleep(READING_SECONDS)
        if self.babble > 0:
            self.babble -= 1
            return "#?!"
        if self.watches:
            if self._puts != self.bench.puts:
                self._puts, self._put_at = self.bench.puts, self._clock()
            shown = self.bench.watched(self._clock() - self._put_at)
        else:
            shown = self.bench.read(self.mode)
        return OVERLOAD if math.isinf(shown) else f"{shown:+.8E}"

    def _hands(self, command: str, rest: str) -> str | None:
        try:
            if command == "BENCH:STATE":
                self.bench.put(rest)
            elif command == "BENCH:PROBE":
                plus, minus, observable = [*rest.split(","), "", ""][:3]
                self.bench.probe(plus, minus, observable)
            elif command == "BENCH:LIFT":
                self.bench.lift()
            elif command == "BENCH:HANGUP":
                self.cut_until = time.monotonic() + float(rest)
            elif command == "BENCH:BABBLE":
                self.babble = int(rest)
            elif command == "BENCH:FIT":
                self.bench.fit(rest)
            else:
                self._complain('-113,"Undefined header"')
        except (KeyError, ValueError, OverflowError) as error:
            self._complain(f'-224,"Illegal parameter value; {_quoted(str(error)[:40])}"')
        return "1"


class _Handler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        server = self.server
        assert isinstance(server, MeterServer)
        meter, wanted = server.meter, server.unlocked_by
        while raw := self.rfile.readline(LONGEST_LINE_BYTES):
            if len(raw) == LONGEST_LINE_BYTES:
                return
            if wanted and raw.strip() != b"*IDN?":
                if raw.strip().decode("ascii", "replace") != wanted:
                    return
                wanted = ""
                continue
            if time.monotonic() < meter.cut_until and not raw.startswith(b"BENCH:"):
                return
            answer = meter.handle(raw.decode("ascii", "replace"))
            if answer is not None:
                self.wfile.write(answer.encode("ascii") + b"\n")


class MeterServer(socketserver.ThreadingTCPServer):
    """Serves one simulated meter on loopback."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, meter: ScpiMeter, port: int = 0, password: str = "") -> None:
        super().__init__(("127.0.0.1", port), _Handler)
        self.meter = meter
        self.unlocked_by = unlocking(password) if password else ""


def _pause(own: VirtualClock, seconds: float) -> None:
    """The second meter's own time goes on by its readings, a little real time between them."""
    own.sleep(seconds)
    time.sleep(QUICK_SECONDS)


def _quoted(text: str) -> str:
    """What may stand in an SCPI string: printable ASCII, quotes doubled (IEEE 488.2, 7.7.5)."""
    shown = "".join(letter if " " <= letter <= "~" else "?" for letter in text)
    return shown.replace('"', '""')


def main(arguments: list[str] | None = None) -> int:
    """Serve until standard input closes: the meter ends with the program that started it."""
    parser = argparse.ArgumentParser(description="A simulated SCPI meter on a simulated board")
    parser.add_argument("--board", default="PB-4310-2")
    parser.add_argument("--fault", action="append", default=[], metavar="REF:MODE[:SEVERITY]")
    parser.add_argument("--port", type=int, default=0)
    parser.add_argument("--quick", action="store_true", help="time passes by readings only")
    options = parser.parse_args(arguments)
    board = shipped_board(options.board)
    faults = [fault_from_key(board, key) for key in options.fault]
    if options.quick:
        virtual = VirtualClock()
        sleep: Callable[[float], None] = virtual.sleep
        meter = ScpiMeter(SimulatedBench(board, faults, virtual), sleep)
    else:
        sleep = time.sleep
        meter = ScpiMeter(SimulatedBench(board, faults, time.monotonic), sleep)
    own = VirtualClock()
    second = ScpiMeter(
        meter.bench,
        (lambda seconds: _pause(own, seconds)) if options.quick else sleep,
        watches=True,
        clock=own if options.quick else time.monotonic,
    )
    word = os.environ.get(PASSWORD_NAME, "")
    with MeterServer(meter, options.port, word) as server, MeterServer(second, 0, word) as other:
        for one in (server, other):
            threading.Thread(target=one.serve_forever, daemon=True).start()
        try:
            print(f"port {server.server_address[1]} second {other.server_address[1]}", flush=True)
        except BrokenPipeError:  # whoever started it has gone already
            return 0
        sys.stdin.read()
    return 0


if __name__ == "__main__":
    sys.exit(main())
