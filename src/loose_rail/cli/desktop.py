"""`loose-rail desktop`: launcher, icon, file kinds, manual and completion for this user.

Everything goes under the user's data directory (Base Directory, Desktop Entry and Shared MIME-info
specifications), needs no rights, and is taken out again by `--remove`.
"""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
from collections.abc import Sequence
from importlib import resources
from pathlib import Path

from loose_rail.cli import parser
from loose_rail.cli.shell_pages import bash_completion, manual
from loose_rail.kernel.errors import UsageError

ID = "org.looserail.LooseRail"
REFRESHED = (
    ("update-desktop-database", "applications"),
    ("update-mime-database", "mime"),
    ("gtk-update-icon-cache", "icons/hicolor"),
)
"""Tools that tell a running desktop of new files, where they are installed."""
REFRESH_SECONDS = 30


def desktop(options: argparse.Namespace) -> int:
    """Install, remove or print. Raises UsageError."""
    if options.udev_rule:
        sys.stdout.write(_asset("70-loose-rail-meters.rules").decode())
        return 0
    if options.man:
        sys.stdout.write(manual(parser()))
        return 0
    if options.completion:
        sys.stdout.write(bash_completion(parser()))
        return 0
    if not (options.install or options.remove):
        raise UsageError(
            "Say what to do with the desktop.",
            "Use --install, --remove, --udev-rule, --man or --completion.",
        )
    data = _data_directory()
    for path, content in files(data).items():
        try:
            if options.remove:
                path.unlink(missing_ok=True)
                continue
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(content)
        except OSError as error:
            raise UsageError(
                f"{path} can't be {'removed' if options.remove else 'written'}: {error.strerror}.",
                "Check its rights.",
            ) from error
        sys.stdout.write(f"{path}\n")
    _refresh(data)
    return 0


def files(data: Path) -> dict[Path, bytes]:
    """What stands under a data directory, by place."""
    return {
        data / "applications" / f"{ID}.desktop": _entry(),
        data / "icons/hicolor/scalable/apps" / f"{ID}.svg": _asset(f"{ID}.svg"),
        data / "metainfo" / f"{ID}.metainfo.xml": _asset(f"{ID}.metainfo.xml"),
        data / "mime/packages" / f"{ID}.xml": _asset(f"{ID}.mime.xml"),
        data / "man/man1/loose-rail.1": manual(parser()).encode(),
        data / "bash-completion/completions/loose-rail": bash_completion(parser()).encode(),
    }


def _data_directory() -> Path:
    given = os.environ.get("XDG_DATA_HOME", "")
    return Path(given) if given.startswith("/") else Path.home() / ".local" / "share"


def _asset(name: str) -> bytes:
    return resources.files("loose_rail.assets").joinpath("desktop", name).read_bytes()


def _entry() -> bytes:
    """The launcher with the command by its full path: a desktop need not know the user's PATH."""
    command = _quoted(_command())
    text = _asset(f"{ID}.desktop").decode()
    text = text.replace("Exec=loose-rail", f"Exec={command}")
    return text.replace(f"TryExec={command}", f"TryExec={_command()[0]}").encode()


def _command() -> Sequence[str]:
    """How this very program is started."""
    started = Path(sys.argv[0])
    if getattr(sys, "frozen", False):
        return [sys.executable]
    beside = Path(sys.executable).with_name("loose-rail")
    if beside.is_file():
        return [str(beside)]
    if started.name == "loose-rail" and started.is_file():
        return [str(started.resolve())]
    return [sys.executable, "-m", "loose_rail"]


def _quoted(words: Sequence[str]) -> str:
    """A command in an Exec key: words with spaces or signs in double quotes, a percent doubled
    (Desktop Entry Specification, “The Exec key”)."""
    shown = []
    for word in words:
        safe = all(letter.isalnum() or letter in "/._-+" for letter in word)
        escaped = "".join(f"\\{one}" if one in '"`$\\' else one for one in word)
        shown.append((word if safe else f'"{escaped}"').replace("%", "%%"))
    return " ".join(shown)


def _refresh(data: Path) -> None:
    """Tell a running desktop; where a tool is missing or fails, the next log-in finds the files."""
    for tool, folder in REFRESHED:
        program = shutil.which(tool)
        if program is None or not (data / folder).is_dir():
            continue
        subprocess.run(
            [program, str(data / folder)],
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            timeout=REFRESH_SECONDS,
            check=False,
        )
