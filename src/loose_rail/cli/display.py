"""Whether there is a display, asked before Qt is: Qt ends the process where there is none.

DISPLAY may name a server that is gone or that this user may not use (sudo, ssh, a container).
"""

from __future__ import annotations

import os
from collections.abc import Mapping
from pathlib import Path

from loose_rail.kernel.errors import UsageError

ANSWER_SECONDS = 0.5
LEAST_SCALE, MOST_SCALE = 0.75, 2.0
HINT = "Start it from a desktop session, or set DISPLAY."


def require_display(names: Mapping[str, str] = os.environ) -> None:
    """Raises UsageError where no window can be opened."""
    platform = names.get("QT_QPA_PLATFORM", "").split(":")[0].split(";")[0]
    if platform and platform not in ("xcb", "wayland", "wayland-egl"):
        return
    wayland, display = names.get("WAYLAND_DISPLAY", ""), names.get("DISPLAY", "")
    if not wayland and not display and not platform:
        raise UsageError("There is no display to open a window on.", HINT)
    if platform != "xcb" and wayland and _compositor_answers(wayland, names):
        return
    if not platform.startswith("wayland") and display and _x_server_answers(display):
        return
    named = ", ".join(
        f"{name}={value}"
        for name, value in (("WAYLAND_DISPLAY", wayland), ("DISPLAY", display))
        if value
    )
    raise UsageError(
        f"The display {named or 'of this login'} does not answer, or lets this user not in.", HINT
    )


def desktop_text_scale(names: Mapping[str, str] = os.environ) -> float:
    """By how much the desktop enlarges text, 1 where it does not say. Qt follows the
    scale of screens by itself, this one not."""
    import shutil  # nothing of it is needed on most desktops
    import subprocess

    program = shutil.which("gsettings", path=names.get("PATH"))
    if program is None or not names.get("DBUS_SESSION_BUS_ADDRESS"):
        return 1.0
    try:
        told = subprocess.run(
            [program, "get", "org.gnome.desktop.interface", "text-scaling-factor"],
            capture_output=True,
            text=True,
            timeout=ANSWER_SECONDS,
            check=False,
        ).stdout
        scale = float(told)
    except (OSError, ValueError, subprocess.TimeoutExpired):
        return 1.0  # another desktop, or none: the size of the screens stands
    return min(max(scale, LEAST_SCALE), MOST_SCALE)


def _compositor_answers(name: str, names: Mapping[str, str]) -> bool:
    import socket

    path = Path(names.get("XDG_RUNTIME_DIR", "/nonexistent")) / name  # an absolute name stands
    with socket.socket(socket.AF_UNIX) as line:
        try:
            line.connect(str(path))
        except OSError:
            return False
    return True


def _x_server_answers(name: str) -> bool:
    import ctypes

    try:
        xcb = ctypes.CDLL("libxcb.so.1")
    except OSError:
        return True  # no library to ask with: Qt brings its own answer
    xcb.xcb_connect.restype = ctypes.c_void_p
    xcb.xcb_connection_has_error.argtypes = (ctypes.c_void_p,)
    xcb.xcb_disconnect.argtypes = (ctypes.c_void_p,)
    line = xcb.xcb_connect(name.encode(), None)
    broken = bool(xcb.xcb_connection_has_error(line))
    xcb.xcb_disconnect(line)
    return not broken
