"""Every main view as a PNG at 1280 by 800, from the demo data, without a monitor.

Works the demo job through its real presenter, one view after another.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from loose_rail.screens.job.view import JobView
    from loose_rail.screens.main_window import MainWindow

SIZE = (1280, 800)
SETTLE_ROUNDS = 8
MOST_DRAINS, PROOF_STEPS = 8, 12
DARK, PULSES, RIGHT = "2", "4", "1"
"""What is typed on the lamp's card."""
LIVE_SECONDS, WATCHED = 40.0, 22
STRIP_DOWN = (
    "12 long M4 round the edge",
    "4 short M4 stand",
    "2 clips top",
    "back cover",
    "hidden lead button board bottom left",
    "cable CN2 latch towards the edge, pin 1 left, red black",
    "ribbon panel flip latch",
    "2 foil tapes over the ribbon",
    "6 M3 board",
)
NEW_JOB = {
    "set_name": "Alderfield 39",
    "numbers": "AF39-PSU, 4C-1187",
    "kind": "LED driver 78 V",
    "connectors": "CN4/2: 5VSB, 5VSB, GND, GND, 13V, 13V, GND, PS-ON, 24V, BL-ON, DIM, ?\n"
    "CN9: LED1+, LED1-",
    "wake": "high",
    "complaint": "No backlight, sound is fine. Getting worse for months, nine years old.",
    "limit": "60",
}
BOUND = ("C952 = 13 V reservoir 1000u 25V x2", "Q901 = standby switch", "C1 = bulk capacitor")
NEW_JOB_SEEN = (2, 5, 6)
"""Tiles that are turned: coil before the can, two transformers with two switches, strips."""


WITH_IT = ("C22", "C27", "Q1")
GOODS = (
    "12x 1000u 16V 105C low-esr 10x20 p5 @A3 =0.40",
    "4x 470u 25V 105C low-esr 10x16 p5 @A4 =0.35",
    "1x 650V 4A N rds=1.9 qg=20n insulated to-220f @D1 off PB-4310-2 Q1",
    "from North: 650V 4A N rds=1.8 qg=18n insulated to-220f =1.90",
    "from North: 1000u 25V 105C low-esr 12.5x20 p5 =0.45",
    "from South: kit PB-4310-2 C21 C22 C27 C31 =6.80",
    "supplier North carriage 4.50 least 10",
    "supplier South carriage 3.90",
)
FINAL_LINES = (
    *("rungs skip because it is still on the bench", "earth none", "insulation 20M"),
    *("ground_screws", "inputs", "sound", "start 8", "warranty 6 months on the work"),
)


def render_all(directory: Path) -> int:
    """Write the pictures into a folder; returns the exit code."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from loose_rail.bootstrap import Workplace, engine_for
    from loose_rail.cli.window import make_application
    from loose_rail.kernel.errors import UsageError
    from loose_rail.screens.main_window import MainWindow
    from loose_rail.screens.shared.dispatch import Dispatcher
    from loose_rail.shop import Options

    try:
        directory.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise UsageError(f"{directory} can't be made: {error.strerror}.") from error
    app = make_application()
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "shop.sqlite"
        window = MainWindow(Dispatcher(at_once=True))
        window.resize(*SIZE)
        window.show()
        window.set_workplace(Workplace(Options(True, data, "", True)), engine_for)

        def shoot(name: str) -> None:
            for _ in range(SETTLE_ROUNDS):
                app.processEvents()
            path = directory / f"{name}.png"
            if not window.grab().save(str(path)):
                raise UsageError(f"{path} can't be written.")
            sys.stdout.write(f"{path}\n")

        _walk(window, shoot)
        window.close()
        window = MainWindow(Dispatcher(at_once=True))
        window.resize(*SIZE)
        window.show()
        data = Path(folder) / "live.sqlite"
        window.set_workplace(Workplace(Options(True, data, "", True)), engine_for)
        _live(window, shoot)
        window.close()
    return 0


def _walk(window: MainWindow, shoot: Callable[[str], None]) -> None:
    """Work the demo job and take the pictures on the way."""
    from loose_rail.screens.guides.view import GuideView

    shoot("01-shelf")
    window.take_in()
    for key, text in NEW_JOB.items():
        window.new_job.fields[key].setText(text)
    for number in NEW_JOB_SEEN:
        window.new_job.tiles.turn(number)
    shoot("13-new-job")
    window.show_shelf()
    window.open_job(1)
    job = window.job
    assert job is not None
    job.go("take_in")
    shoot("02-take-in")
    job.go("strip_down")
    for line in STRIP_DOWN:
        job.presenter.first.strip_enter(line)
    shoot("14-strip-down")
    _photographs(window, shoot)
    job.go("look_over")
    first = job.presenter.first
    first.move_survey(1)  # the first part's dome is noted on its photograph
    first.note_finding(6)
    shoot("12-look-over")
    job.go("cold_checks")
    job.front.show_guide("tests")
    guide = job.front["guide"]
    assert isinstance(guide, GuideView) and guide.guide is not None
    guide.guide.enter("Q1")
    guide.draw_again()
    shoot("16-test")
    job.front.leave()
    _follow(window, shoot)
    job.go("verdict")
    shoot("06-verdict")
    job.go_on()
    for ref in WITH_IT:
        job.presenter.enter_part(f"+{ref}")
    shoot("07-parts")
    _areas(window, shoot)
    job.go("rework")
    job.command("unplugged")
    for _ in range(MOST_DRAINS):
        if job.presenter.session.to_measure():
            job.measure()
    for _ in range(3):
        job.go_on()
    shoot("08-rework")
    while job.presenter.stage == "rework":
        job.go_on()
    shoot("09-power-up")
    _prove(window)
    job.command("unplugged")
    job.go("hand_back")
    for line in FINAL_LINES:
        job.final_line(line)
    job.refresh()
    shoot("10-hand-back")
    job.go("cold_checks")
    window.toggle_theme()
    _book(window)
    shoot("11-board-book-night")
    window.toggle_theme()


def _areas(window: MainWindow, shoot: Callable[[str], None]) -> None:
    """The stores cover the list of the job; the working that its stage asks for."""
    from loose_rail.screens.stores.view import StoresView

    window.show_area("stores")
    page = window.area("stores")
    assert isinstance(page, StoresView)
    for line in GOODS:
        page.enter(line)
    shoot("04-stores")
    page.take()
    window.show_area("workings")
    shoot("03-workings")
    window.show_job()


def _book(window: MainWindow) -> None:
    """The board of the form in the book, with parts that have their names."""
    from loose_rail.screens.board_book.view import BoardBookView

    assert window.workplace is not None
    window.workplace.new_job().create(window.new_job.form())
    number = NEW_JOB["numbers"].split(",")[0]
    for line in BOUND:
        window.workplace.board_desk(number).enter(line)
    window.show_area("board_book")
    page = window.area("board_book")
    assert isinstance(page, BoardBookView)
    page.choose(number)


def phase_of(job: JobView) -> str:
    """What the card in front asks for."""
    return job.card.phase if job.card is not None else ""


def _photographs(window: MainWindow, shoot: Callable[[str], None]) -> None:
    """Two made-up photographs, one with a point, side by side."""
    assert window.job is not None
    from loose_rail.practice.sample_photo import sample_photo

    job = window.job
    with tempfile.TemporaryDirectory() as folder:
        paths = [Path(folder) / f"{name}.jpg" for name in ("as found", "cleaned")]
        for path, domed in zip(paths, (True, False), strict=True):
            path.write_bytes(sample_photo(domed))
        job.photos.add_files(paths)
    job.front.show("photos")
    job.presenter.album.select(0)
    job.presenter.album.mark(0.55, 0.25, "C21 bulging")
    job.photos.compare()
    shoot("15-photographs")
    job.front.leave()


def _live(window: MainWindow, shoot: Callable[[str], None]) -> None:
    """Hands free with the simulated meters until a rail has been watched for a while."""
    from PyQt6.QtWidgets import QApplication

    window.open_job(1)
    assert window.job is not None
    job = window.job
    job.go("cold_checks")
    from loose_rail.screens.live.present import live_state

    session, live = job.presenter.session, job.presenter.live
    job.live.turn()
    end = time.monotonic() + LIVE_SECONDS
    while time.monotonic() < end:
        QApplication.processEvents()
        time.sleep(0.002)
        if phase_of(job) in ("state", "lamp"):
            job.foot()
        plugged = session.state.board_state.plugged
        if plugged and live.meter.phase == "settling" and len(live_state(live).values) > WATCHED:
            break
    shoot("17-live")
    job.front.show("trace")
    shoot("18-recording")
    job.front.leave()
    job.live.turn()
    window.show_area("meters")
    from loose_rail.screens.meters.view import MetersView

    meters = window.area("meters")
    assert isinstance(meters, MetersView)
    meters.search()
    shoot("19-meters")


def _follow(window: MainWindow, shoot: Callable[[str], None]) -> None:
    """Follow the offered probes with the simulated meter until the verdict."""
    assert window.job is not None
    job = window.job
    for _ in range(40):
        phase = phase_of(job)
        if phase == "nothing":
            break
        if phase == "state":
            job.command("confirm")
        elif phase == "lamp":
            job.presenter.submit(PULSES)
        else:
            job.command("meter")
    shoot("05-bench")


def _prove(window: MainWindow) -> None:
    """Power up, say what the lamp did, read the repaired rail."""
    assert window.job is not None
    job = window.job
    for _ in range(PROOF_STEPS):
        phase = phase_of(job)
        if phase == "state":
            job.command("confirm")
        elif phase == "lamp":
            job.presenter.submit(DARK)
        elif phase == "light":
            job.presenter.submit(RIGHT)
        elif phase in ("reading", "bulk"):
            job.command("meter")
