"""What a netlist's graph says before any arithmetic: floating nets and loops of ideal sources."""

from __future__ import annotations

from loose_rail.netlist.netlist import GROUND, Netlist, Part


class Groups:
    """Union-find over nets."""

    def __init__(self) -> None:
        self._above: dict[str, str] = {}

    def find(self, net: str) -> str:
        """The net that stands for the group of this one."""
        top = net
        while (above := self._above.get(top, top)) != top:
            top = above
        while (above := self._above.get(net, net)) != net:
            self._above[net], net = top, above
        return top

    def join(self, a: str, b: str) -> bool:
        """Put two nets into one group; False where they were together already."""
        first, second = self.find(a), self.find(b)
        if first == second:
            return False
        self._above[second] = first
        return True


def check_paths(netlist: Netlist, for_ac: bool, floating_allowed: bool = False) -> None:
    """Raises NetlistError for a net without a path to ground and for loops of ideal sources."""
    _check_loops(netlist, for_ac)
    if floating_allowed:
        return
    groups = Groups()
    conducts = "RVLDC" if for_ac else "RVLD"
    for part in netlist.parts:
        if part.kind in conducts:
            groups.join(part.plus, part.minus)
    for part in netlist.parts:
        for net in (part.plus, part.minus):
            if groups.find(net) != groups.find(GROUND):
                kind = "path" if for_ac else "DC path"
                raise netlist.error(
                    f"Net “{net}” has no {kind} to ground.",
                    "Connect it, or put a large resistor from it to 0.",
                    part.line,
                )


def _check_loops(netlist: Netlist, for_ac: bool) -> None:
    groups = Groups()
    ideal = "V" if for_ac else "VL"
    for part in netlist.parts:
        if part.kind in ideal and not groups.join(part.plus, part.minus):
            raise netlist.error(
                f"{part.name} closes a loop of ideal {_words(part)}.",
                "Put the small resistor in that a real one has.",
                part.line,
            )


def _words(part: Part) -> str:
    return "voltage sources" if part.kind == "V" else "inductors and voltage sources"
