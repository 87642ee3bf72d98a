"""What the control side shows, gathered: the chain, sockets, switch tables, module checks, codes."""

from dataclasses import dataclass

from iron_probe.core.bench.control.interlock import Link, chain_of
from iron_probe.core.bench.control.module_checks import LOW_REASON, LowLine
from iron_probe.core.bench.control.pins import PinStep, Socket, socket_of
from iron_probe.core.bench.control.switch_table import SwitchTable, continuity_table, live_table, switches_of
from iron_probe.core.circuit.elements import Module, Relay
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.job.fold import JobLog, KeptLine, LoggedReading
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import CodeLine
from iron_probe.work.control_work import CheckTaken, checks_of, newest_like
from iron_probe.work.verdicts import ready_or_why, verdicts
from iron_probe.work.word import Verdicts


@dataclass(frozen=True, slots=True, kw_only=True)
class StepShown:
    """A pin step with the newest reading taken of it."""

    step: PinStep
    taken: LoggedReading | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ControlPage:
    """The whole context of the page."""

    job: Job
    sheet: Sheet
    log: JobLog
    chain: tuple[Link, ...]
    numbers: tuple[int, ...]
    weighed: bool
    sockets: tuple[tuple[Socket, tuple[StepShown, ...], tuple[CheckTaken, ...]], ...]
    live: tuple[SwitchTable, ...]
    continuity: tuple[SwitchTable, ...]
    modules: tuple[tuple[Module, tuple[CheckTaken, ...]], ...]
    codes: tuple[tuple[KeptLine, CodeLine], ...]
    low_reasons: dict[LowLine, str]
    wrong: str = ""
    wrong_at: str = ""
    typed: str = ""


def control_page(job: Job, log: JobLog, wrong: str = "", wrong_at: str = "", typed: str = "") -> ControlPage:
    """Gather the page; the chain shows the engine's word once its ensemble is ready."""
    sheet = job.sheet
    engine = ready_or_why(job)[0]
    found: Verdicts | None = verdicts(job, log, engine) if engine else None
    readings = [r.reading for r in log.counting(log.epoch)]
    relays = [e for e in sheet.elements if isinstance(e, Relay)]
    sockets = [socket_of(sheet, relay, job.conditions) for relay in relays]
    switches = switches_of(sheet)
    return ControlPage(
        job=job,
        sheet=sheet,
        log=log,
        chain=tuple(chain_of(network_of(sheet, job.conditions), found.posterior if found and readings else None)),
        numbers=found.numbers if found else (),
        weighed=engine is not None,
        sockets=tuple(
            (s, tuple(StepShown(step=step, taken=newest_like(log, step.reading)) for step in s.steps), checks_of(log, s.relay.id, sheet))
            for s in sockets
        ),
        live=tuple(live_table(sheet, poles, readings) for poles in switches if poles[0].role == "ignition"),
        continuity=tuple(continuity_table(sheet, poles, readings) for poles in switches),
        modules=tuple((m, checks_of(log, m.id, sheet)) for m in sheet.elements if isinstance(m, Module)),
        codes=tuple(log.lines(CodeLine)),
        low_reasons=LOW_REASON,
        wrong=wrong,
        wrong_at=wrong_at,
        typed=typed,
    )
