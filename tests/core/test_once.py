"""What is worked out once: kept for each object, and no thread waits for another's work on other data."""

import threading

from bright_tether.core.once import once


class Slow:
    def __init__(self, go):
        self.go, self.times = go, 0

    @once
    def answer(self):
        """Waits until it is let go."""
        self.times += 1
        self.go.wait(5)
        return self.times


def test_it_is_worked_out_once_for_each_object():
    ready = threading.Event()
    ready.set()
    one, other = Slow(ready), Slow(ready)
    assert [one.answer, one.answer, other.answer] == [1, 1, 1]
    assert (one.times, other.times) == (1, 1)
    assert Slow.answer.__doc__ == "Waits until it is let go."


def test_another_object_does_not_wait():
    ready, held = threading.Event(), threading.Event()
    ready.set()
    worker = threading.Thread(target=lambda: Slow(held).answer)
    worker.start()
    try:
        answered = []
        asker = threading.Thread(target=lambda: answered.append(Slow(ready).answer))
        asker.start()
        asker.join(2)
        assert answered == [1]  # while the other still works
        assert worker.is_alive()
    finally:
        held.set()
        worker.join()
