"""The battery card: every test as it was typed, judged in order, with what each leaves as evidence on the circuit."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from iron_probe.core.bench.battery.capacity import CapacityRun, judge_accepted, judge_capacity, share_accepted
from iron_probe.core.bench.battery.conductance import judge_conductance, judge_resistance
from iron_probe.core.bench.battery.guard import MadeTest, NotCondemned, why_not_condemned
from iron_probe.core.bench.battery.load_test import LoadTest, judge_load_test
from iron_probe.core.bench.battery.rest import RestCheck, judge_parallel, judge_rest, judge_series
from iron_probe.core.bench.battery.typed_points import parse_points
from iron_probe.core.bench.battery.under_crank import CrankVolts, judge_cranking
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.bench.judged import Judged, Verdict
from iron_probe.core.bench.typed_value import Bound, parse_quantity
from iron_probe.core.circuit.elements import Battery, Conditions
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.errors import ReadingError

TESTS = ("rest", "pair", "conductance", "crank", "load", "capacity", "accepted")
RATINGS = ("CCA", "SAE", "EN", "DIN", "JIS")
TypedFields = Mapping[str, str]


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedTest:
    """One test: its kind, what was typed, the verdict, and the readings it leaves; `figures` are named numbers with unit for the screen; `held`
    the share of its rating the battery is shown to hold; `cell_lost` and `emptied` when it names a lost cell, or ran the battery down to its floor."""

    kind: str
    typed: TypedFields
    judged: Judged
    readings: tuple[Reading, ...] = ()
    figures: tuple[tuple[str, float, str], ...] = ()
    held: "Held | None" = None
    cell_lost: bool = False
    emptied: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """Share of its rating a battery holds at 25 °C: the figure, or the least or most it can be."""

    share: float
    bound: Bound


@dataclass(slots=True)
class BatteryCard:
    """The tests of one battery of a sheet so far. `charge` is the last state of charge known, `held` what it is shown to hold."""

    sheet: Sheet
    battery: Battery
    temp_degc: float
    entries: list[JudgedTest] = field(default_factory=list)
    charge: float | None = None
    rest_v: float | None = None
    held: Held | None = None
    _tested: list[MadeTest] = field(default_factory=list)

    @property
    def blocks(self) -> float:
        """12 V blocks in this battery."""
        return self.battery.volts / 12

    @property
    def share_left(self) -> float:
        """Share of its rating to reckon with; all of it where nothing was shown."""
        return 1.0 if self.held is None else self.held.share

    @property
    def charge_left(self) -> float:
        """State of charge to reckon with; full where nobody has read it."""
        return 1.0 if self.charge is None else self.charge

    @property
    def cell_lost(self) -> bool:
        """Whether a rest test after a full charge named a lost cell."""
        return any(e.cell_lost for e in self.entries)

    @property
    def not_condemned(self) -> NotCondemned | None:
        """Why it may not be called bad yet; None when it may."""
        return why_not_condemned(self._tested)

    def judge(self, kind: str, typed: TypedFields) -> JudgedTest:
        """Judge a test as typed; ReadingError or SheetError when it cannot be understood. The card is left as it is."""
        return self._judges()[kind](typed)

    def add(self, kind: str, typed: TypedFields) -> JudgedTest:
        """Judge a test and keep it."""
        entry = self.judge(kind, typed)
        self.entries.append(entry)
        found = {name: value for name, value, _ in entry.figures}
        if kind == "rest":
            self.rest_v, self.charge = found["rest"], found.get("charge")
        self._tested.append(MadeTest(kind=kind, verdict=entry.judged.verdict, charge=self.charge, cell_lost=entry.cell_lost))
        if kind in ("capacity", "accepted"):  # run down to its floor it is empty; else nobody has read how far
            self.charge = 0.0 if entry.emptied else None
        self.held = entry.held or self.held
        return entry

    def _judges(self) -> dict[str, Callable[[TypedFields], JudgedTest]]:
        return {
            "rest": self._rest, "pair": self._pair, "conductance": self._conductance, "crank": self._crank, "load": self._load,
            "capacity": self._capacity, "accepted": self._accepted,
        }  # fmt: skip

    def _state(self, cranking: bool) -> str:
        """The state a figure belongs to: the first of the sheet, all off, or the one where the starter turns."""
        return (self.sheet.cranking_state() if cranking else None) or next(iter(self.sheet.states))

    def _posts(self, volts: float, resolution: float, cranking: bool, amps: float | None = None) -> Reading:
        return Reading(
            red=self.battery.end, black=self.battery.start, state=self._state(cranking), value=volts, resolution=resolution, amps=amps
        )

    def _rest(self, typed: TypedFields) -> JudgedTest:
        quantity = parse_quantity(typed.get("volts", ""), "V")
        hours = _number(typed, "hours_since", "hours since it was charged or driven", 0, 10_000)
        check = RestCheck(
            rest_v=quantity.value / self.blocks, temp_degc=self._degc(typed), chemistry=self.battery.chemistry, hours_since=hours,
            bled=bool(typed.get("bled")), charger=bool(typed.get("charger")), charged=bool(typed.get("charged")),
        )  # fmt: skip
        result = judge_rest(check)
        told = result.charge is not None or result.cell_lost
        readings = (self._posts(quantity.value, quantity.resolution, False),) if told else ()
        figures: list[tuple[str, float, str]] = [("rest", quantity.value, "V")]
        if result.charge is not None:
            figures += [("charge", result.charge, "share"), ("low", result.low, "share"), ("high", result.high, "share")]
        return JudgedTest(
            kind="rest", typed=typed, judged=result.judged, readings=readings, figures=tuple(figures), cell_lost=result.cell_lost
        )

    def _pair(self, typed: TypedFields) -> JudgedTest:
        first, second = (parse_quantity(typed.get(name, ""), "V").value for name in ("first", "second"))
        how = typed.get("how", "series")
        judged = judge_series(first, second) if how == "series" else judge_parallel(first, second, how == "joined")
        return JudgedTest(kind="pair", typed=typed, judged=judged, figures=(("first", first, "V"), ("second", second, "V")))

    def _conductance(self, typed: TypedFields) -> JudgedTest:
        rated = _number(typed, "rated", "the rating on the label", 20, 3000) or self.battery.cca_a
        mohm = typed.get("mohm", "").strip()
        ohm = parse_quantity(mohm if not mohm.replace(",", ".").replace(".", "").isdecimal() else f"{mohm} mΩ", "Ω") if mohm else None
        measured = _number(typed, "measured", "measured cold amps", 0, 4000)
        if measured is None and ohm is None:
            raise ReadingError("Enter the cold amps the tester shows, its internal resistance, or both.")
        kinds = tuple(typed.get(name) or "CCA" for name in ("measured_as", "rated_as"))
        if not set(kinds) <= set(RATINGS):
            raise ReadingError(f"A rating is one of {', '.join(RATINGS)}.")
        judged = (
            judge_conductance(measured, kinds[0], rated, kinds[1], self.charge)  # type: ignore[arg-type]
            if measured is not None
            else judge_resistance(ohm.value / self.blocks if ohm else 0.0, rated, self.temp_degc, self.charge)
        )
        readings: tuple[Reading, ...] = ()
        figures: list[tuple[str, float, str]] = [] if measured is None else [("measured", measured, "A"), ("rated", rated, "A")]
        if ohm is not None:
            figures.append(("resistance", ohm.value, "Ω"))
            if self.charge is not None:
                readings = (
                    Reading(
                        instrument=Instrument.TESTER,
                        branch=self.battery.id,
                        state=self._state(False),
                        value=ohm.value,
                        resolution=ohm.resolution,
                    ),
                )
        return JudgedTest(kind="conductance", typed=typed, judged=judged, readings=readings, figures=tuple(figures))

    def _crank(self, typed: TypedFields) -> JudgedTest:
        posts = parse_quantity(typed.get("posts", ""), "V")
        clamps = parse_quantity(typed["clamps"], "V").value if typed.get("clamps", "").strip() else None
        amps = abs(parse_quantity(typed["amps"], "A").value) if typed.get("amps", "").strip() else None
        rest = parse_quantity(typed["rest"], "V").value if typed.get("rest", "").strip() else self.rest_v
        if rest is None:
            raise ReadingError("No rest voltage is known: enter the volts just before cranking, or do the rest test first.")
        machine = good_machine(self.sheet, self._state(True), Conditions(temp_degc=self.temp_degc))
        expected = abs(machine.expected_amps(self.battery.id)[0])
        shares = judge_cranking(
            CrankVolts(
                rest_v=rest / self.blocks, posts_v=posts.value / self.blocks, clamps_v=None if clamps is None else clamps / self.blocks, amps=amps,
                cca_a=self.battery.cca_a, chemistry=self.battery.chemistry, temp_degc=self.temp_degc, expected_a=expected,
            )
        )  # fmt: skip
        readings = [self._posts(posts.value, posts.resolution, True, amps)]
        if amps is not None:
            readings.append(
                Reading(instrument=Instrument.CLAMP, branch=self.battery.id, state=self._state(True), value=amps, resolution=1.0)
            )
        figures = [("posts", posts.value, "V"), ("expected", shares.expected_v * self.blocks, "V")]
        if clamps is not None:
            figures += [("clamps", clamps, "V"), ("joints", shares.joint_v * self.blocks, "V")]
        if amps is not None:
            figures += [("amps", amps, "A"), ("expected amps", expected, "A")]
        if shares.resistance_ohm is not None:
            figures.append(("ΔV/ΔI", shares.resistance_ohm * self.blocks, "Ω"))
        return JudgedTest(kind="crank", typed=typed, judged=shares.judged, readings=tuple(readings), figures=tuple(figures))

    def _load(self, typed: TypedFields) -> JudgedTest:
        rows = parse_points(typed.get("points", ""), ("seconds", "volts"))
        load = abs(parse_quantity(typed.get("load", ""), "A").value)
        test = LoadTest(
            seconds=[r[0] for r in rows], volts=[r[1] / self.blocks for r in rows], load_a=load, rated_a=self.battery.cca_a,
            temp_degc=self._degc(typed), charge=self.charge,
        )  # fmt: skip
        return JudgedTest(kind="load", typed=typed, judged=judge_load_test(test), figures=(("load", load, "A"), ("end", rows[-1][1], "V")))

    def _capacity(self, typed: TypedFields) -> JudgedTest:
        rows = parse_points(typed.get("points", ""), ("minutes", "volts", "amps"), optional=1)
        amps = [r[2] if len(r) > 2 else _load_amps(typed.get("load", ""), r[1]) for r in rows]
        run = CapacityRun(
            minutes=[r[0] for r in rows], volts=[r[1] / self.blocks for r in rows], amps=amps, rated_ah=self.battery.capacity_ah,
            floor_v=11.0 if self.battery.chemistry == "lifepo4" else 10.5, lithium=self.battery.chemistry == "lifepo4",
            temp_degc=self._degc(typed), charge=self.charge,
        )  # fmt: skip
        result = judge_capacity(run)
        figures = [
            ("delivered", result.delivered_ah, "Ah"), ("mean", result.mean_a, "A"), ("share", result.share, "share"), ("low", result.low, "share"),
            ("high", result.high, "share"), ("a good one lasts", result.expected_minutes, "min"),
        ]  # fmt: skip
        tells = result.judged.verdict is not Verdict.OPEN
        held = Held(share=result.share, bound=result.bound) if tells else None
        readings = self._holds(held) if held else ()
        return JudgedTest(
            kind="capacity", typed=typed, judged=result.judged, readings=readings, figures=tuple(figures), held=held, emptied=result.reached
        )

    def _holds(self, held: Held) -> tuple[Reading, ...]:
        """The reading that what a battery holds leaves on the circuit."""
        return (
            Reading(
                instrument=Instrument.CAPACITY, branch=self.battery.id, state=self._state(False), value=held.share * self.battery.capacity_ah,
                resolution=1.0, bound=held.bound,
            ),
        )  # fmt: skip

    def _accepted(self, typed: TypedFields) -> JudgedTest:
        taken = _number(typed, "ah", "the amp-hours the charger put in", 0, 2000)
        if taken is None:
            raise ReadingError("Enter the amp-hours the charger put in from flat, such as 6.5.")
        judged = judge_accepted(taken, self.battery.capacity_ah)
        held = Held(share=sum(share_accepted(taken, self.battery.capacity_ah)) / 2, bound=Bound.EXACT)
        return JudgedTest(
            kind="accepted", typed=typed, judged=judged, readings=self._holds(held), figures=(("accepted", taken, "Ah"),), held=held
        )

    def _degc(self, typed: TypedFields) -> float:
        given = _number(typed, "temp", "the battery's temperature in °C", -40, 70)
        return self.temp_degc if given is None else given


def _number(typed: TypedFields, name: str, what: str, least: float, most: float) -> float | None:
    text = typed.get(name, "").strip().replace(",", ".").replace("−", "-")
    if not text:
        return None
    try:
        value = float(text)
    except ValueError:
        raise ReadingError(f"“{text[:40]}” is not a number: enter {what}, {least:g} to {most:g}.") from None
    if not least <= value <= most:
        raise ReadingError(f"{value:g} is out of reach: enter {what}, {least:g} to {most:g}.")
    return value


def _load_amps(text: str, volts: float) -> float:
    """Amps of a load typed as amps or as lamp watts: filament watts go with volts about to the power 1.55, from 13.2 V."""
    load = text.strip().casefold().replace(",", ".")
    if load.endswith("w"):
        watts = _number({"w": load.removesuffix("w")}, "w", "lamp watts such as 110 W", 1, 5000)
        return (watts or 0.0) * (max(volts, 0.1) / 13.2) ** 1.55 / max(volts, 0.1)
    return abs(parse_quantity(text, "A").value)
