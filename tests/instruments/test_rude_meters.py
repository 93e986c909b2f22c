"""Meters that hold the line: bounded in time and memory. Ports that can't be used: why."""

import errno
import os
import socket
import tempfile
import threading
import time
import tracemalloc
import unittest
from pathlib import Path
from unittest import mock

from loose_rail.instruments.answer_line import MOST_BYTES
from loose_rail.instruments.finder import identify
from loose_rail.instruments.port_rights import refused
from loose_rail.instruments.scpi_profile import shipped_profiles
from loose_rail.instruments.visa_meter import VisaMeter
from loose_rail.kernel.errors import MeterTalkError

PATIENCE_MILLISECONDS = 800
MOST_SECONDS = 6.0


def rude(when: str, sends: bytes, pause: float) -> int:
    """A meter on a port of its own that, once asked `when`, sends this for ever."""
    server = socket.socket()
    server.bind(("127.0.0.1", 0))
    server.listen()

    def serve() -> None:
        line, _ = server.accept()
        with line, server:
            try:
                while asked := line.recv(200).decode("ascii", "replace"):
                    if when in asked:
                        break
                    if "*IDN?" in asked:
                        line.sendall(b"Made up,Rude,1,1\n")
                while True:
                    line.sendall(sends)
                    time.sleep(pause)
            except OSError:
                return  # the program has let go of it, as it should

    threading.Thread(target=serve, daemon=True).start()
    return int(server.getsockname()[1])


class Rude(unittest.TestCase):
    def test_none_holds_the_program(self) -> None:
        for when, sends, pause in (
            ("*IDN?", b"x" * 65536, 0.0),
            ("*IDN?", b"1", 0.2),
            ("READ?", b"7" * 65536, 0.0),
            ("READ?", b"1", 0.2),
        ):
            with self.subTest(when=when, pause=pause):
                address = f"TCPIP::127.0.0.1::{rude(when, sends, pause)}::SOCKET"
                tracemalloc.start()
                begun = time.monotonic()
                with self.assertRaises(MeterTalkError) as raised:
                    meter = VisaMeter(address, PATIENCE_MILLISECONDS)
                    try:
                        meter.read("dc_volts")
                    finally:
                        meter.close()
                _, peak = tracemalloc.get_traced_memory()
                tracemalloc.stop()
                self.assertLess(time.monotonic() - begun, MOST_SECONDS)
                self.assertLess(peak, 100 * MOST_BYTES)
                self.assertTrue(raised.exception.hint)

    def test_a_search_tells_what_such_a_port_is(self) -> None:
        port = rude("*IDN?", b"x" * 4096, 0.0)
        found = identify(f"TCPIP::127.0.0.1::{port}::SOCKET", shipped_profiles())
        self.assertEqual(found.name, "")
        self.assertIn("line", found.problem)


class Ports(unittest.TestCase):
    def test_a_port_that_is_not_there(self) -> None:
        found = refused("ASRL/dev/ttyNOWHERE7::INSTR", OSError())
        self.assertIn("no port /dev/ttyNOWHERE7", found.message)

    def test_a_port_of_another_group_names_it(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            port = Path(folder) / "ttyUSB0"
            port.touch()
            with (
                mock.patch.object(os, "access", return_value=False),
                mock.patch("grp.getgrgid") as group,
            ):
                group.return_value.gr_name = "dialout"
                found = refused(f"ASRL{port}::INSTR", PermissionError())
            self.assertIn("the group dialout may", found.message)
            self.assertIn("usermod -aG dialout", found.hint)
            busy = refused(f"ASRL{port}::INSTR", OSError())
            self.assertIn("another program may hold it", busy.message)

    def test_an_instrument_without_rights_names_the_rule(self) -> None:
        error = OSError(errno.EACCES, "Access denied")
        try:
            try:
                raise error
            except OSError as inner:
                raise ValueError("no device found") from inner
        except ValueError as outer:
            found = refused("USB0::1::2::3::INSTR", outer)
        self.assertIn("--udev-rule", found.hint)
        self.assertIn("switched on", refused("USB0::1::2::3::INSTR", ValueError("x")).hint)


if __name__ == "__main__":
    unittest.main()
