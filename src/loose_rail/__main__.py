"""Entry point: chooses between the window and the commands that need none."""

from __future__ import annotations

import os
import sys
from importlib import import_module

from loose_rail.kernel.errors import LooseRailError

WHOLE = 100


def main(arguments: list[str] | None = None) -> int:
    """Run the program; returns the exit code: 0, or 2 with one clear line on standard error."""
    from loose_rail import cli
    from loose_rail.kernel.own_process import run_part

    given = sys.argv[1:] if arguments is None else arguments
    if (part := run_part(given)) is not None:
        return part
    try:
        options = cli.parse(given)
        if options.command == "check-board":
            return cli.check_board(options.file)
        if options.runs:  # each command is a module of its own, imported when it is asked for
            module = import_module(f"loose_rail.cli.{options.runs}")
            code: int = getattr(module, options.runs)(options)
            return code
        if options.command == "screenshots":
            from loose_rail.cli.screenshots import render_all

            return render_all(options.directory)
        from loose_rail.cli.display import desktop_text_scale
        from loose_rail.cli.start import Start
        from loose_rail.cli.window import run

        scale = options.scale / WHOLE if options.scale else desktop_text_scale()
        if scale != 1.0:
            os.environ.setdefault("QT_SCALE_FACTOR", f"{scale:g}")
        demo, file = options.command == "demo", str(getattr(options, "file", None) or "")
        return run(Start(demo, options.data, options.meter, options.second_meter, file))
    except LooseRailError as error:
        sys.stderr.write(f"loose-rail: {error.one_line()}\n")
        return cli.EXIT_BAD


if __name__ == "__main__":
    sys.exit(main())
