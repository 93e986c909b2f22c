"""Plots in the theme's colours: axes with units, nothing that the mouse moves. pyqtgraph is loaded
with the first of them."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QVBoxLayout

from loose_rail.screens.shared import theme
from loose_rail.screens.shared.widgets import clear_layout


def new_grid(layout: QVBoxLayout) -> Any:
    """An empty grid of plots in place of what stands in a layout."""
    import pyqtgraph as pg

    clear_layout(layout)
    pg.setConfigOptions(antialias=True)
    grid = pg.GraphicsLayoutWidget()
    grid.setBackground(theme.current().panel)
    layout.addWidget(grid)
    return grid


def styled(plot: Any, left: str, bottom: str = "") -> Any:
    """The plot with its titles, axes in the theme's colours and sizes."""
    plot.setLabel("left", left, color=theme.current().quiet)
    if bottom:
        plot.setLabel("bottom", bottom, color=theme.current().quiet)
    for axis in ("left", "bottom"):
        item = plot.getAxis(axis)
        item.setPen(theme.color("line"))
        item.setTextPen(theme.color("quiet"))
        item.setTickFont(theme.font("small"))
        item.label.setFont(theme.font("small"))
        item.enableAutoSIPrefix(False)
    plot.setMouseEnabled(False, False)
    plot.setMenuEnabled(False)
    plot.hideButtons()
    return plot
