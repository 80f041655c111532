"""What has been worked out for the lists, kept by what it was worked out from: the same version in the same kitchen is never done twice."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import TypeVar
from weakref import WeakKeyDictionary

from gullpeak.store.repository import Store

T = TypeVar("T")
MOST = 4000
"""So many cards are kept of a store; the one longest not asked for goes first."""


class Shelf:
    """Cards by key, the newest asked for last."""

    def __init__(self) -> None:
        self._kept: OrderedDict[Hashable, object] = OrderedDict()
        self._lock = Lock()

    def get(self, key: Hashable, make: Callable[[], T]) -> T:
        """Return what is kept under a key, made now where there is nothing. The key holds all that it is made from."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]  # type: ignore[return-value]
        made = make()
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > MOST:
                self._kept.popitem(last=False)
        return made


_OF: WeakKeyDictionary[Store, Shelf] = WeakKeyDictionary()


def shelf(store: Store) -> Shelf:
    """Return a store's own shelf."""
    return _OF.setdefault(store, Shelf())
