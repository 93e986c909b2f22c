"""The pages of the stages, one line each: which view, and the state that it draws."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from loose_rail.screens.bench.view import BenchView
from loose_rail.screens.hand_back.view import HandBackView
from loose_rail.screens.job.present import JobPresenter
from loose_rail.screens.look_over.view import SurveyView
from loose_rail.screens.parts.view import PartsView
from loose_rail.screens.power_up.view import PowerUpView
from loose_rail.screens.rework.view import ReworkView
from loose_rail.screens.shared.page import StagePage
from loose_rail.screens.strip_down.view import StripView
from loose_rail.screens.take_in.view import IntakeView
from loose_rail.screens.verdict.view import VerdictView
from loose_rail.vocabulary.stage import Stage


@dataclass(frozen=True, slots=True)
class StageEntry:
    """A stage's page. Stages with the same view share one page."""

    view: type[StagePage]
    present: Callable[[JobPresenter], Any]


STAGE_PAGES: dict[Stage, StageEntry] = {
    Stage.TAKE_IN: StageEntry(IntakeView, JobPresenter.take_in),
    Stage.STRIP_DOWN: StageEntry(StripView, JobPresenter.strip_down),
    Stage.LOOK_OVER: StageEntry(SurveyView, JobPresenter.look_over),
    Stage.COLD_CHECKS: StageEntry(BenchView, JobPresenter.bench),
    Stage.LIVE_CHECKS: StageEntry(BenchView, JobPresenter.bench),
    Stage.VERDICT: StageEntry(VerdictView, JobPresenter.verdict),
    Stage.PARTS: StageEntry(PartsView, JobPresenter.parts),
    Stage.REWORK: StageEntry(ReworkView, JobPresenter.rework),
    Stage.POWER_UP: StageEntry(PowerUpView, JobPresenter.power_up),
    Stage.HAND_BACK: StageEntry(HandBackView, JobPresenter.hand_back),
}
