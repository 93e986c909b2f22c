"""The soak drawn: what chance is left that a fault is there, against attended hours."""

from __future__ import annotations

from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from loose_rail.screens.power_up.state import SoakView
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.plots import new_grid, styled


class SoakChart(QWidget):
    """The curve, the aim as a line, each look as a dot on it, now as a mark. pyqtgraph is imported
    when it is first shown."""

    def __init__(self) -> None:
        super().__init__()
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("The soak: chance that a fault is left, against hours")

    def show_state(self, state: SoakView) -> None:
        """Draw it."""
        import pyqtgraph as pg

        self.setAccessibleDescription(" ".join(state.words))
        plot = styled(new_grid(self._layout).addPlot(), "a fault is left, %", "attended hours, h")
        left = [100.0 * one for one in state.left]
        plot.plot(state.hours, left, pen=pg.mkPen(theme.color("ink"), width=2.2))
        aim = pg.InfiniteLine(
            100.0 * state.aim, angle=0, pen=pg.mkPen(theme.color("agrees"), width=1.6)
        )
        plot.addItem(aim)
        now = pg.InfiniteLine(state.done, pen=pg.mkPen(theme.color("action"), width=2))
        plot.addItem(now)
        for good, role, symbol in ((True, "agrees", "o"), (False, "disagrees", "d")):
            at = [hours for hours, fine in state.looks if fine is good]
            heights = [_height(state, hours) for hours in at]
            brush = pg.mkBrush(theme.color("agrees" if role == "agrees" else "disagrees"))
            plot.plot(at, heights, pen=None, symbol=symbol, symbolSize=11, symbolBrush=brush)
        plot.setYRange(0, 1.1 * max(left))
        plot.setXRange(0, state.hours[-1])


def _height(state: SoakView, hours: float) -> float:
    """The curve at some hours, in per cent."""
    step = state.hours[1] or 1.0
    return 100.0 * state.left[min(round(hours / step), len(state.left) - 1)]
