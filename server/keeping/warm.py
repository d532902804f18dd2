"""What a process that does long work loads before it is asked for any."""

from importlib import import_module

ALL = ("scipy.stats", "server.api")


def warm() -> None:
    """Load everything that it will be asked for."""
    for name in ALL:
        import_module(name)
