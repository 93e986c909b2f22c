"""Every calculator, in the order in which the bench needs them."""

from __future__ import annotations

from loose_rail.judgement.workings.calculator import Calculator
from loose_rail.judgement.workings.mains import MAINS
from loose_rail.judgement.workings.outputs import OUTPUTS
from loose_rail.judgement.workings.parts import PARTS

CALCULATORS: tuple[Calculator, ...] = (*MAINS, *OUTPUTS, *PARTS)
