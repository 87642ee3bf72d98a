"""What is heard of a solved state."""

from iron_probe.core.circuit.network import Network
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Symptom
from iron_probe.core.solve.symptom import symptom_codes

ORDER = tuple(Symptom)


def test_a_sound_machine_is_silent_at_rest_and_cranks_when_told(minibus_network: Network) -> None:
    states = minibus_network.sheet.states
    rest = next(s for s, state in states.items() if not state.cranking and not state.rpm)
    assert ORDER[int(symptom_codes(solve_state(minibus_network, "crank"))[0])] is Symptom.CRANKS
    assert ORDER[int(symptom_codes(solve_state(minibus_network, rest))[0])] is not Symptom.CRANKS
