"""Columns of a control sheet: which rows of them are taken, in an order that can still grow in between."""

from collections.abc import Iterator
from typing import Self


class Column:
    """A current path, with the rows in which something stands."""

    def __init__(self, number: int) -> None:
        self.number = number
        """When it was begun: what hangs below one potential has numbers next to each other."""
        self.rows: set[float] = set()
        self.width = 1
        self.next: Self | None = None

    def is_free(self, row: float, last: float) -> bool:
        """Does nothing stand from one row to the other, both included?"""
        return all(not row <= taken <= last for taken in self.rows)


class Columns:
    """All columns from the first to the last."""

    def __init__(self) -> None:
        self.count = 0
        self._first: Column | None = None
        self._last: Column | None = None

    def __iter__(self) -> Iterator[Column]:
        column = self._first
        while column:
            yield column
            column = column.next

    def append(self) -> Column:
        """A new column after all others."""
        self.count += 1
        return self._put(Column(self.count - 1), self._last)

    def insert(self, after: Column) -> Column:
        """A new column after one, that counts as begun together with it."""
        return self._put(Column(after.number), after)

    def _put(self, fresh: Column, after: Column | None) -> Column:
        fresh.next = after.next if after else self._first
        if after:
            after.next = fresh
        else:
            self._first = fresh
        if after is self._last:
            self._last = fresh
        return fresh

    def places(self) -> dict[Column, int]:
        """How many paths from the left each stands."""
        found, at = {}, 0
        for column in self:
            found[column] = at
            at += column.width
        return found
