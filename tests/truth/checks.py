"""Where each kind of claim has its check."""

CHECKS = {}


def check(kind):
    """Register the check of a kind."""

    def keep(function):
        CHECKS[kind] = function
        return function

    return keep


def near(a, b, rel=1e-6, tiny=1e-9):
    """Alike as far as two roads can be."""
    if a is None or b is None:
        return a is b
    return bool(abs(a - b) <= rel * max(abs(a), abs(b)) + tiny)
