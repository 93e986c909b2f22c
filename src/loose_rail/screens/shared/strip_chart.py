"""A strip chart: meters in time with the sound range as a band, markers, zoom and pan.

Drawn by pyqtgraph, thinned to peaks where there are more samples than pixels. The newest sample
stays at the right edge until the person moves the view; `follow` takes it back there.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QBuffer, QIODevice, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QWidget

from loose_rail.screens.shared import theme

CURVE_ROLES: tuple[theme.Role, ...] = ("ink", "hot", "cold", "action")
BAND_ALPHA = 50
FOLLOW_SECONDS = 12.0
THIN_FROM = 5000
"""Above this many samples lines are one pixel wide: wider ones take several times as long."""
PADDING, MARKED_PADDING = 0.02, 0.1
"""Room above and below the curves; with marks as much as the words of one need."""


class StripChart(pg.PlotWidget):  # type: ignore[misc]
    """`show_trace` draws channels `(name, unit, seconds, values)`; OL leaves a gap."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Readings in time")
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.viewport().setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.follows = True
        self.span_seconds = FOLLOW_SECONDS
        self._curves: list[pg.PlotDataItem] = []
        self._markers: list[pg.InfiniteLine] = []
        self._band = pg.LinearRegionItem(orientation="horizontal", movable=False)
        self._band.setZValue(-10)
        self._band.hide()
        self.addItem(self._band)
        self.setMenuEnabled(False)
        self.hideButtons()
        self.getPlotItem().setClipToView(True)
        self.getPlotItem().setDownsampling(auto=True, mode="peak")
        self.getViewBox().setAutoVisible(y=True)
        self.getViewBox().sigRangeChangedManually.connect(self._moved)
        self.restyle()

    def restyle(self) -> None:
        """Colours of the theme."""
        self.setBackground(theme.color("card"))
        font = theme.font("small")
        for side in ("left", "bottom"):
            axis = self.getPlotItem().getAxis(side)
            axis.setPen(theme.color("quiet"))
            axis.setTextPen(theme.color("ink"))
            axis.setStyle(tickFont=font)
        colour = QColor(theme.color("agrees"))
        colour.setAlpha(BAND_ALPHA)
        self._band.setBrush(colour)
        for number, curve in enumerate(self._curves):
            curve.setPen(self._pen(number))

    def _pen(self, number: int, many: bool = False) -> Any:
        role = CURVE_ROLES[number % len(CURVE_ROLES)]
        style = Qt.PenStyle.SolidLine if number == 0 else Qt.PenStyle.DashLine
        wide = 1.6 if number == 0 else 1.2
        return pg.mkPen(theme.color(role), width=1.0 if many else wide, style=style)

    def name_axes(self, unit: str) -> None:
        """Titles of the axes."""
        plot = self.getPlotItem()
        plot.setLabel("left", "reading", units=unit)
        plot.setLabel("bottom", "time", units="s")

    def show_trace(self, channels: list[tuple[str, str, np.ndarray, np.ndarray]]) -> None:
        """Draw channels; the first one's unit is on the axis."""
        while len(self._curves) < len(channels):
            curve = self.plot([], [], pen=self._pen(len(self._curves)), connect="finite")
            self._curves.append(curve)
        for curve in self._curves[len(channels) :]:
            curve.setData([], [])
        if not channels:
            return
        for curve, (_, _, seconds, values) in zip(self._curves, channels, strict=False):
            curve.setData(seconds, np.where(np.isfinite(values), values, np.nan))
            number = self._curves.index(curve)
            curve.setPen(self._pen(number, len(values) > THIN_FROM))
        self.name_axes(channels[0][1])
        if self.follows:
            end = max((float(c[2][-1]) for c in channels if len(c[2])), default=0.0)
            self.setXRange(end - self.span_seconds, end, padding=0.0)

    def show_band(self, band: tuple[float, float] | None) -> None:
        """The sound range, or none."""
        self._band.setVisible(band is not None)
        if band is not None:
            self._band.setRegion(band)

    def show_markers(self, markers: list[tuple[float, str]]) -> None:
        """Named moments."""
        for line in self._markers[len(markers) :]:
            self.removeItem(line)
        del self._markers[len(markers) :]
        self.getViewBox().setDefaultPadding(MARKED_PADDING if markers else PADDING)
        for number, (seconds, words) in enumerate(markers):
            if number < len(self._markers):
                continue
            line = pg.InfiniteLine(
                seconds,
                pen=pg.mkPen(theme.color("action"), width=1.2),
                label=words,
                labelOpts={
                    "position": 0.955 - 0.085 * (number % 3),
                    "color": theme.color("action"),
                    "fill": theme.color("card"),
                },
            )
            self.addItem(line)
            self._markers.append(line)

    def _moved(self) -> None:
        self.follows = False

    def follow(self) -> None:
        """The newest sample at the right edge again, the height by what is seen."""
        self.follows = True
        self.getViewBox().enableAutoRange("y")

    def zoom(self, factor: float) -> None:
        """Longer or shorter stretch of time: a factor above 1 shows less."""
        self.span_seconds = min(max(self.span_seconds / factor, 0.05), 7200.0)
        (left, right), _ = self.viewRange()
        middle, half = 0.5 * (left + right), 0.5 * self.span_seconds
        if self.follows:
            self.setXRange(right - 2 * half, right, padding=0.0)
        else:
            self.setXRange(middle - half, middle + half, padding=0.0)

    def pan(self, share: float) -> None:
        """Move by a share of what is seen."""
        (left, right), _ = self.viewRange()
        step = share * (right - left)
        self.follows = False
        self.setXRange(left + step, right + step, padding=0.0)

    def paper_picture(self) -> bytes:
        """What is seen as PNG in the colours of paper, whatever the theme."""
        shown = theme.current()
        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        try:
            theme.use(theme.DAYLIGHT)
            self.restyle()
            self.grab().save(buffer, "PNG")
        finally:
            theme.use(shown)
            self.restyle()
        return buffer.data().data()

    def save_picture(self, path: Path) -> bool:
        """Write what is seen as PNG; False where the file can't be written."""
        return bool(self.grab().save(str(path), "PNG"))
