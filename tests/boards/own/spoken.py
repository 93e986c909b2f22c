"""Everything that a screen, a card, a guide or a netlist can take from a profile, as words."""

from loose_rail.boards.probes import probes_of
from loose_rail.boards.profile import Board
from loose_rail.judgement.transitions import instructions
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power


def spoken(board: Board, forced: bool = False) -> list[str]:
    """The words of a board, with the steps into every state; a jumper's where `forced` is asked."""
    said = [part.ref for part in board.components] + [part.duty for part in board.components]
    said += [net.where for net in board.nets] + [one.title for one in board.sections]
    said += [one.subtitle for one in board.sections] + [rail.title for rail in board.rails]
    said += [one.ref for one in board.connectors] + [one.reason for one in board.co_failures]
    for probe in probes_of(board):
        said += [probe.title, probe.plus_words, probe.minus_words]
    for power in Power:
        for cable in (True, False):
            steps = instructions(board, UNPLUGGED, BoardState(power, cable, 60))
            said += [step.text for step in steps] if power is not Power.FORCED or forced else []
    return said
