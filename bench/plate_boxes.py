"""The boxes that the text, the signs and the lines of a feed map take, to hold them against each other."""

from itertools import combinations, pairwise

from iron_probe.core.draw.feed_map import LETTER, LINE, FeedMap, MapLabel

Box = tuple[float, float, float, float]


def box_of(label: MapLabel) -> Box:
    """What a label takes: left, top, right, bottom."""
    width = LETTER * max(len(line) for line in label.lines)
    left = {"start": label.x, "middle": label.x - width / 2, "end": label.x - width}[label.anchor]
    return left, label.y - 9, left + width, label.y + 3 + LINE * (len(label.lines) - 1)


def texts_of(drawing: FeedMap) -> dict[str, Box]:
    """All texts that stand upright, and those of folded tracks as they hang."""
    found = {f"branch {b.id}": box_of(b.label) for b in drawing.branches}
    found |= {f"point {p.id} {k}": box_of(p.label) for k, p in enumerate(drawing.points)}
    for s in drawing.stubs:
        left, top, right, bottom = box_of(s.label)
        hanging = (s.label.x - LINE * (len(s.label.lines) - 1) - 3, s.label.y, s.label.x + 9, s.label.y + right - left)
        found[f"stub {s.id}"] = hanging if s.label.hanging else (left, top, right, bottom)
    return found


def solids_of(drawing: FeedMap) -> dict[str, Box]:
    """Signs, points and lines, as boxes."""
    found: dict[str, Box] = {}
    for b in drawing.branches:
        (x, y), (along, aside) = b.middle, (22.0, 9.0) if b.heavy else (14.0, 9.0)
        half_x, half_y = (aside, along) if b.upright else (along, aside)
        found[f"sign {b.id}"] = (x - half_x, y - half_y, x + half_x, y + half_y)
        for k, line in enumerate(pairwise(b.line)):
            found[f"line {b.id} {k}"] = _thick(*line)
    for s in drawing.stubs:
        for k, line in enumerate(pairwise(s.line)):
            found[f"line {s.id} {k}"] = _thick(*line)
    found |= {f"dot {p.id} {k}": (p.x - 6, p.y - 6, p.x + 6, p.y + 6) for k, p in enumerate(drawing.points)}
    return found


def _thick(a: tuple[float, float], b: tuple[float, float]) -> Box:
    return min(a[0], b[0]) - 0.8, min(a[1], b[1]) - 0.8, max(a[0], b[0]) + 0.8, max(a[1], b[1]) + 0.8


def over(a: Box, b: Box) -> bool:
    """Whether two boxes lie over each other."""
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def clashes(drawing: FeedMap) -> list[str]:
    """Text over text, over a sign, a point or a line, or cut off at the edge; lines through the signs of other branches, and lines that cross."""
    texts, solids = texts_of(drawing), solids_of(drawing)
    found = [f"{a} over {b}" for (a, one), (b, two) in combinations(texts.items(), 2) if over(one, two)]
    found += [f"{a} over {b}" for a, one in texts.items() for b, two in solids.items() if over(one, two)]
    found += [
        f"{a} is cut off"
        for a, (left, top, right, bottom) in texts.items()
        if left < 0 or top < 0 or right > drawing.width or bottom > drawing.height
    ]
    lines = [(b.id, *segment) for b in drawing.branches for segment in pairwise(b.line)]
    found += [f"{a} crosses {b}" for (a, p, q), (b, r, s) in combinations(lines, 2) if a != b and _cross(p, q, r, s)]
    signs = {b.id: solids[f"sign {b.id}"] for b in drawing.branches}
    found += [f"{a} through the sign of {b}" for a, p, q in lines for b, sign in signs.items() if a != b and over(_thick(p, q), sign)]
    return found


def _cross(p: tuple[float, float], q: tuple[float, float], r: tuple[float, float], s: tuple[float, float]) -> bool:
    """Whether one line that lies and one that stands cross inside both."""
    for (a, b), (c, d) in (((p, q), (r, s)), ((r, s), (p, q))):
        if a[1] == b[1] and c[0] == d[0] and min(a[0], b[0]) < c[0] < max(a[0], b[0]) and min(c[1], d[1]) < a[1] < max(c[1], d[1]):
            return True
    return False
