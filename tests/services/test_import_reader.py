"""Files read in a process of their own: bounded in time and memory, stopped when nobody waits."""

import os
import threading
import time
from collections.abc import Callable, Iterator

import numpy as np
import pytest

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.services.imports.jobs import Imports, load_for_tracks
from neapfrost.services.imports.preview import ImportOptions
from neapfrost.services.readers import NO_ROAD, TOO_MUCH, InReaders, too_long, understood

RING = 2.0 * np.pi * np.arange(120) / 120


def ring_csv(radius_m: float = 80.0) -> bytes:
    rows = "\n".join(f"{radius_m * np.cos(a):.3f},{radius_m * np.sin(a):.3f}" for a in RING)
    return f"x,y\n{rows}\n".encode()


def sleeps(tell: Callable[[int], None]) -> None:
    tell(1)
    time.sleep(60.0)


def takes_memory(tell: Callable[[int], None]) -> int:
    tell(0)
    return sum(len(bytearray(64 * 2**20)) for _ in [bytearray(64 * 2**20) for _ in range(64)])


def who(tell: Callable[[int], None]) -> int:
    tell(0)
    return os.getpid()


def trips(tell: Callable[[int], None]) -> None:
    tell(0)
    raise ZeroDivisionError("nobody thought of this")


def waited() -> bool:
    return True


def unheard(step: int) -> None:
    del step


@pytest.fixture(scope="module")
def readers() -> Iterator[InReaders]:
    made = InReaders(load_for_tracks, seconds_most=6.0)
    yield made
    made.stop()


def refused(action: Callable[[], object]) -> str:
    with pytest.raises(InputRefused) as refusal:
        action()
    return refusal.value.faults[0].message


def test_a_process_is_kept_for_the_next_file_and_is_another_one(readers: InReaders) -> None:
    first, second = (readers.run(who, tell=unheard, wanted=waited) for _ in range(2))
    assert first == second
    assert first != os.getpid()


def test_what_takes_too_long_is_ended_and_the_next_file_is_read(readers: InReaders) -> None:
    steps: list[int] = []
    begun = time.monotonic()
    said = refused(lambda: readers.run(sleeps, tell=steps.append, wanted=waited))
    assert said == too_long(6.0)
    assert steps == [1]
    assert time.monotonic() - begun < 20.0
    assert readers.run(who, tell=unheard, wanted=waited) != os.getpid()


def test_nobody_waits_for_a_file_that_is_not_wanted(readers: InReaders) -> None:
    process = readers.run(who, tell=unheard, wanted=waited)
    said = refused(lambda: readers.run(sleeps, tell=unheard, wanted=lambda: False))
    assert said == "stopped; nothing of the file was saved"
    assert readers.run(who, tell=unheard, wanted=waited) != process


def test_a_file_gets_no_more_memory_than_it_may_have(readers: InReaders) -> None:
    assert refused(lambda: readers.run(takes_memory, tell=unheard, wanted=waited)) == TOO_MUCH
    assert readers.run(who, tell=unheard, wanted=waited) != os.getpid()


def test_what_nobody_thought_of_is_a_sentence_too(readers: InReaders) -> None:
    assert refused(lambda: readers.run(trips, tell=unheard, wanted=waited)) == NO_ROAD
    assert refused(lambda: understood(trips, unheard)) == NO_ROAD
    with pytest.raises(InputRefused, match="own words"):
        understood(_refuses, unheard)


def _refuses(tell: Callable[[int], None]) -> None:
    tell(0)
    raise InputRefused([Fault("x", "own words")])


def test_a_file_is_looked_at_and_edited_elsewhere_as_it_is_here(readers: InReaders) -> None:
    here, there = Imports(), Imports(readers)
    first = here.look("ring.csv", ring_csv(), ImportOptions())
    same = there.look("ring.csv", ring_csv(), ImportOptions())
    assert same.model_dump(exclude={"id"}) == first.model_dump(exclude={"id"})
    assert there.again(same.id, ImportOptions(width_m=9.0)).width_m == 9.0
    with pytest.raises(InputRefused, match="only 3 points differ"):
        there.look("few.csv", b"x,y\n0,0\n10,0\n20,0\n", ImportOptions())


def test_a_file_is_stopped_by_its_name_while_it_is_read(readers: InReaders) -> None:
    imports = Imports(readers)
    data = b"x,y\n" + b"\n".join(b"%d,%d" % (9 * n, (n * n) % 7) for n in range(4000))

    def stop_once_begun() -> None:
        while imports.progress("watch-this").step == 0:
            time.sleep(0.005)
        imports.stop("watch-this")

    threading.Thread(target=stop_once_begun, daemon=True).start()
    said = refused(lambda: imports.look("long.csv", data, ImportOptions(), "watch-this"))
    assert said == "stopped; nothing of the file was saved"


def test_nobody_waits_for_a_place_either() -> None:
    busy = InReaders(load_for_tracks, seconds_most=30.0)
    gone = threading.Event()
    threads = [
        threading.Thread(
            target=lambda: refused(
                lambda: busy.run(sleeps, tell=unheard, wanted=lambda: not gone.is_set())
            )
        )
        for _ in range(2)
    ]
    for thread in threads:
        thread.start()
    while len(busy._busy) < 2:
        time.sleep(0.01)
    said = refused(lambda: busy.run(who, tell=unheard, wanted=lambda: False))
    assert said == "stopped; nothing of the file was saved"
    gone.set()
    for thread in threads:
        thread.join()
    busy.stop()
