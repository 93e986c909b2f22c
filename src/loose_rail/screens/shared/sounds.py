"""Tones and spoken words through what the system has; the terminal bell where it has nothing.

Tones are made on the first use and played by a small program of the sound system; speech goes
through speech-dispatcher. Both are optional and never wait.
"""

from __future__ import annotations

import array
import math
import shutil
import subprocess
import tempfile
import wave
from pathlib import Path

from PyQt6.QtWidgets import QApplication

PLAYERS = ("pw-play", "paplay", "aplay")
SPEAKER = "spd-say"
RATE = 22050
TONES = {
    "held": ((880.0, 0.09),),
    "wrong": ((440.0, 0.10), (330.0, 0.14)),
    "lost": ((220.0, 0.25),),
    "next": ((660.0, 0.05), (990.0, 0.05)),
}
LOUDNESS = 0.35


class Sounds:
    """Plays tones by name and speaks; says nothing where it is switched off."""

    def __init__(self, tones: bool = True, speech: bool = False) -> None:
        self.tones, self.speech = tones, speech
        self.played: list[str] = []
        self._player = next((p for p in PLAYERS if shutil.which(p)), "")
        self._speaker = shutil.which(SPEAKER) or ""
        self._folder: tempfile.TemporaryDirectory[str] | None = None
        self._running: list[subprocess.Popen[bytes]] = []

    @property
    def can_speak(self) -> bool:
        """Whether speech-dispatcher is there."""
        return bool(self._speaker)

    def play(self, name: str) -> None:
        """One tone."""
        self.played.append(name)
        if not self.tones:
            return
        if not self._player:
            QApplication.beep()
            return
        self._start([self._player, str(self._file(name))])

    def say(self, words: str) -> None:
        """Speak, cutting short what is still being said."""
        if self.speech and self._speaker and words:
            self._start([self._speaker, "-C"])
            self._start([self._speaker, words])

    def close(self) -> None:
        """The tones' files are thrown away."""
        if self._folder is not None:
            self._folder.cleanup()
            self._folder = None

    def _start(self, command: list[str]) -> None:
        self._running = [one for one in self._running if one.poll() is None]
        quiet = subprocess.DEVNULL
        self._running.append(subprocess.Popen(command, stdout=quiet, stderr=quiet))

    def _file(self, name: str) -> Path:
        if self._folder is None:
            self._folder = tempfile.TemporaryDirectory(prefix="loose-rail-tones-")
        path = Path(self._folder.name) / f"{name}.wav"
        if not path.exists():
            samples = array.array("h")
            for hertz, seconds in TONES[name]:
                count = round(RATE * seconds)
                for k in range(count):
                    fade = min(1.0, k / 200, (count - k) / 200)
                    level = LOUDNESS * fade * math.sin(2 * math.pi * hertz * k / RATE)
                    samples.append(round(32767 * level))
            with wave.open(str(path), "wb") as out:
                out.setnchannels(1)
                out.setsampwidth(2)
                out.setframerate(RATE)
                out.writeframes(samples.tobytes())
        return path
