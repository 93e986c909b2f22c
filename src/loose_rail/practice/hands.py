"""The hands at the simulated bench: tells it over its socket what the person has confirmed.

The process is started once and ends when the program that started it ends.
"""

from __future__ import annotations

import contextlib
import os
import queue
import secrets
import socket
import subprocess
import threading
from collections.abc import Sequence

from loose_rail.kernel.errors import MeterError
from loose_rail.kernel.own_process import command_of
from loose_rail.practice.password import PASSWORD_BYTES, PASSWORD_NAME, unlocking

START_SECONDS = 30.0
ANSWER_SECONDS = 5.0


class SimulatedBenchProcess:
    """A meter server in a process of its own; `port` is where its meter listens."""

    def __init__(self, board: str, faults: Sequence[str], quick: bool = False) -> None:
        command = command_of("loose_rail.practice.meter_server", "--board", board)
        for fault in faults:
            command += ["--fault", fault]
        self.password = secrets.token_hex(PASSWORD_BYTES)
        self._process = subprocess.Popen(
            [*command, *(["--quick"] if quick else [])],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
            start_new_session=True,  # Ctrl+C in a terminal is the window's
            env={**os.environ, PASSWORD_NAME: self.password},
        )
        self._port: int | None = None
        self._second = 0
        self._ready = threading.Event()
        threading.Thread(target=self._wait_for_port, daemon=True).start()

    def _wait_for_port(self) -> None:
        assert self._process.stdout is not None
        try:
            line = self._process.stdout.readline()
        except ValueError:  # closed while it was starting: there is no port to come
            line = ""
        if line.startswith("port "):
            words = line.split()
            self._port, self._second = int(words[1]), int(words[3])
        self._ready.set()

    @property
    def port(self) -> int:
        """Port of the meter; waits until the process is ready. Raises MeterError."""
        self._ready.wait(START_SECONDS)
        if self._port is None:
            raise MeterError("The simulated meter did not start.", "Type the readings instead.")
        return self._port

    @property
    def address(self) -> str:
        """VISA address of the meter."""
        return f"TCPIP::127.0.0.1::{self.port}::SOCKET"

    @property
    def unlock(self) -> str:
        """The command with its password."""
        return unlocking(self.password)

    @property
    def second_address(self) -> str:
        """VISA address of the second meter, clipped across the bulk."""
        return f"TCPIP::127.0.0.1::{self._second if self.port else 0}::SOCKET"

    def close(self) -> None:
        """End the process."""
        with contextlib.suppress(OSError):
            if self._process.stdin is not None:
                self._process.stdin.close()
        if self._process.stdout is not None:
            self._process.stdout.close()
        try:
            self._process.wait(2)
        except subprocess.TimeoutExpired:
            self._process.kill()
            self._process.wait()


class BenchHands:
    """Sends what is confirmed to the bench, in order, from a thread of its own: never blocks."""

    def __init__(self, process: SimulatedBenchProcess) -> None:
        self._process = process
        self._lines: queue.Queue[str | threading.Event | None] = queue.Queue()
        self._thread = threading.Thread(target=self._work, daemon=True)
        self._thread.start()

    def put(self, state: str) -> None:
        """The board is in this state now."""
        self._lines.put(f"BENCH:STATE {state}")

    def probe(self, plus: str, minus: str, observable: str) -> None:
        """The probes are on these nets."""
        self._lines.put(f"BENCH:PROBE {plus},{minus},{observable}")

    def lift(self) -> None:
        """The probes leave the board for a moment."""
        self._lines.put("BENCH:LIFT")

    def mishap(self, line: str) -> None:
        """Let the meter drop out or babble: `HANGUP 2`, `BABBLE 3`."""
        self._lines.put(f"BENCH:{line}")

    def fit(self, part: str) -> None:
        """A part was replaced."""
        self._lines.put(f"BENCH:FIT {part}")

    def settle(self) -> None:
        """Wait until everything sent so far has been done. Raises MeterError where it never is."""
        done = threading.Event()
        self._lines.put(done)
        if not done.wait(START_SECONDS if self._thread.is_alive() else 0.0):
            raise MeterError("The simulated meter does not answer.", "Type the readings instead.")

    def close(self) -> None:
        """Stop sending."""
        self._lines.put(None)
        self._thread.join(ANSWER_SECONDS)

    def _work(self) -> None:
        connection: socket.socket | None = None
        while (line := self._lines.get()) is not None:
            if isinstance(line, threading.Event):
                line.set()
                continue
            try:
                if connection is None:
                    connection = socket.create_connection(
                        ("127.0.0.1", self._process.port), ANSWER_SECONDS
                    )
                    connection.sendall(f"{self._process.unlock}\n".encode())
                connection.sendall(line.encode() + b"\n")
                connection.recv(16)
            except (OSError, MeterError):
                if connection is not None:
                    connection.close()
                connection = None
        if connection is not None:
            connection.close()
