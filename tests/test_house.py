"""The house looks after its children: one that ends is started again, none outlives it."""

import os
import signal

from iron_probe.house import Child, House
from iron_probe.store.cluster import ClusterError


def test_a_killed_child_is_started_again_and_all_end_with_the_house() -> None:
    said: list[str] = []
    child = Child("worker", ["export-spice", "pool-car"], {})
    house = House([child], lambda: False, said.append)
    house.start()
    assert child.process is not None
    first = child.process.pid
    child.started -= 60  # it has run for a while
    os.kill(first, signal.SIGKILL)
    assert house.wait_until(lambda: child.process is not None and child.process.pid != first, 30)
    assert said[0].startswith("worker ended (-9)")
    house.stop()
    assert child.process.poll() is not None


def test_a_database_that_does_not_start_is_said_and_tried_until_it_does() -> None:
    said: list[str] = []
    left = ["The disk is full.", "The disk is full."]

    def bring_back() -> bool:
        if left:
            raise ClusterError(left.pop())
        return True

    House([], bring_back, said.append).wait_until(lambda: len(said) == 3, 30)
    assert said[0] == "The disk is full. It is tried again until it starts." and "started again" in said[2]
