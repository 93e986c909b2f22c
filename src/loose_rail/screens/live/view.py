"""The live meter beside the ledger: phase, statistics, character, and the last seconds drawn."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from loose_rail.screens.live.state import LiveState
from loose_rail.screens.shared.strip_chart import StripChart
from loose_rail.screens.shared.widgets import label, set_role

WIDTH = 312


class LivePanel(QWidget):
    """`show_state` draws another moment; hidden while no meter is live."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("live")
        self.setAccessibleName("Continuous reading")
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 4, 10, 4)
        column.setSpacing(1)
        self._name = label(role="quiet")
        self._phase = label(role="strong")
        self._words = label(role="quiet", wrap=True)
        self.chart = StripChart()
        self.chart.setMinimumHeight(60)
        self.chart.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Ignored)
        self.setFixedWidth(WIDTH)
        self.chart.getPlotItem().hideAxis("bottom")
        for widget in (self._name, self._phase, self._words):
            column.addWidget(widget)
        column.addWidget(self.chart, 1)
        self.hide()

    def show_state(self, state: LiveState) -> None:
        """Draw the meter as it stands."""
        self.setVisible(state.on)
        if not state.on:
            return
        self._name.setText(state.name if not state.trouble else "meter lost")
        if state.trouble:
            self._phase.setText(state.trouble)
        else:
            reading = f"{state.reading}  " if state.reading else ""
            self._phase.setText(f"{reading}{state.phase_words}")
        set_role(self._phase, "bad" if state.trouble else "strong")
        self._words.setText(" · ".join(filter(None, (state.character, state.statistics))))
        values = np.array(state.values, dtype=float)
        self.chart.show_trace([("A", state.unit, np.array(state.seconds), values)])
        self.chart.show_band(state.band)

    def restyle(self) -> None:
        """The theme changed."""
        self.chart.restyle()
