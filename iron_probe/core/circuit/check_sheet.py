"""What a sheet that parses can still have wrong: wires to nowhere, twin names, unfed fuses, bare loops."""

from collections import Counter
from collections.abc import Callable, Iterator

import networkx as nx

from iron_probe.core.circuit.elements import Battery, BranchKind, Conditions, Element, Fuse, Positions, Rectifier, Stator, TwoPole
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.circuit.stator_ways import joined_by_wire
from iron_probe.core.errors import Mistake, unknown_name

LineOf = Callable[..., int]


def mistakes_in(sheet: Sheet, line_of: LineOf) -> list[Mistake]:
    """All mistakes in how the sheet hangs together; `line_of(*path)` gives the line of a part of the file."""
    found = list(_names(sheet, line_of))
    found += _positions(sheet, line_of)
    if not found:  # the wiring is only walked when every name in it is known
        found += _wiring(sheet, line_of)
    return found


def _names(sheet: Sheet, line_of: LineOf) -> Iterator[Mistake]:
    counts = Counter(e.id for e in sheet.elements)
    for place, element in enumerate(sheet.elements):
        line = line_of("elements", place)
        if counts[element.id] > 1:
            yield Mistake(line=line, where=f"element {element.id}", text="this id is used by more than one element")
        for point in element.points():
            if point not in sheet.points:
                yield Mistake(line=line, where=f"element {element.id}", text=unknown_name("point", point, list(sheet.points)))
        for branch in element.branches():
            if branch.start == branch.end:
                yield Mistake(line=line, where=f"element {element.id}", text=f"both ends are on {branch.start}")
        for point in element.senses():
            if point not in sheet.points:
                yield Mistake(line=line, where=f"element {element.id}", text=unknown_name("point", point, list(sheet.points)))
        if "." in element.id:
            text = "an id has no dot: the dot parts an element from its branches, such as relay.coil"
            yield Mistake(line=line, where=f"element {element.id}", text=text)
        yield from _references(sheet, element, line)
    for which, name in (("minus", sheet.minus), ("plus", sheet.plus)):
        if name not in sheet.points:
            yield Mistake(line=line_of(which), where=which, text=unknown_name("point", name, list(sheet.points)))
    titles: dict[str, str] = {}
    for name, described in sheet.points.items():
        first = titles.setdefault(described.title.casefold(), name)
        if first != name:
            text = f"has the same title as {first}: two names for one point, or two points that need telling apart"
            yield Mistake(line=line_of("points", name), where=f"point {name}", text=text)
    if not sheet.batteries:
        yield Mistake(line=line_of("elements"), where="elements", text="there is no battery")


def _references(sheet: Sheet, element: Element, line: int) -> Iterator[Mistake]:
    """Elements that are named and are not there, or are something else."""
    types = {e.id: e.type for e in sheet.elements}
    for other, wanted in element.refers_to().items():
        where = f"element {element.id}, {wanted}"
        if other not in types:
            found = [i for i, kind in types.items() if kind == wanted]
            known = f"known: {', '.join(found)}" if found else f"this sheet has no {wanted}"
            yield Mistake(line=line, where=where, text=f"no {wanted} is called “{other}”; {known}")
        elif types[other] != wanted:
            yield Mistake(line=line, where=where, text=f"{other} is a {types[other]}, and a {wanted} is needed here")


def _positions(sheet: Sheet, line_of: LineOf) -> list[Mistake]:
    found = []

    def check(wanted: Positions, line: int, where: str) -> None:
        for control, positions in wanted.items():
            if control not in sheet.controls:
                found.append(Mistake(line=line, where=where, text=unknown_name("control", control, list(sheet.controls))))
                continue
            for position in positions:
                if position not in sheet.controls[control].positions:
                    text = unknown_name(f"position of {control}", position, sheet.controls[control].positions)
                    found.append(Mistake(line=line, where=where, text=text))

    for name, state in sheet.states.items():
        check({c: [p] for c, p in state.set.items()}, line_of("states", name), f"state {name}")
    heard: set[str] = set()
    for place, element in enumerate(sheet.elements):
        for wanted in element.listens_to():
            check(wanted, line_of("elements", place), f"element {element.id}")
            heard |= set(wanted)
    for name in sheet.controls:
        if name not in heard:
            text = "no switch, load or module listens to it: a dead control; join it to something or remove it with the states that set it"
            found.append(Mistake(line=line_of("controls", name), where=f"control {name}", text=text))
    return found


def _wiring(sheet: Sheet, line_of: LineOf) -> Iterator[Mistake]:
    wires: nx.MultiGraph = nx.MultiGraph()
    bare: nx.Graph = nx.Graph()
    carrying: nx.MultiGraph = nx.MultiGraph()  # what can bring current without passing a consumer
    for element in sheet.elements:
        for branch in element.branches():
            wires.add_edge(branch.start, branch.end, element=element.id)
            if element.feeds_on or branch.kind in (BranchKind.CONTACT, BranchKind.OUTPUT):
                carrying.add_edge(branch.start, branch.end, element=element.id)
        if isinstance(element, TwoPole) and element.bare_metal:
            ohm = element.parameters(Conditions())[0].nominal
            bare.add_edge(element.start, element.end, ohm=ohm)
    inputs = {p for e in sheet.elements for p in e.senses()}
    inputs |= {p for e in sheet.elements if isinstance(e, Stator) for p in e.phases()}
    for name in sheet.points:
        ends = wires.degree(name) if name in wires else 0
        if ends == 0:
            yield Mistake(line=line_of("points", name), where=f"point {name}", text="no element touches it")
        elif ends == 1 and name not in inputs:
            hanging = next(iter(wires.edges(name, data="element")))[2]
            text = f"only {hanging} ends here: a dangling wire; join it to something or remove the point"
            yield Mistake(line=line_of("points", name), where=f"point {name}", text=text)
    for place, element in enumerate(sheet.elements):
        if isinstance(element, Rectifier) and not joined_by_wire(sheet, element):
            text = f"its ac pins are not joined to {element.stator}, one to each phase, by wires and plugs alone"
            yield Mistake(line=line_of("elements", place), where=f"element {element.id}", text=text)
        if isinstance(element, Fuse):
            fed = nx.Graph((u, v) for u, v, owner in carrying.edges(data="element") if owner != element.id)
            if not any(end in fed and nx.has_path(fed, end, sheet.plus) for end in (element.start, element.end)):
                text = f"no way leads from {sheet.plus} to this {element.type}: a fuse with no feed"
                yield Mistake(line=line_of("elements", place), where=f"element {element.id}", text=text)
    for place, element in enumerate(sheet.elements):
        if not isinstance(element, Battery) or element.start not in bare or element.end not in bare:
            continue
        if nx.has_path(bare, element.start, element.end):
            ohm = nx.shortest_path_length(bare, element.start, element.end, weight="ohm")
            text = f"its posts are joined by bare metal of {ohm * 1000:.1f} mΩ: a loop without a consumer"
            yield Mistake(line=line_of("elements", place), where=f"element {element.id}", text=text)
