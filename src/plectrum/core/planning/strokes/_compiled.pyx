# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True
"""The planner's inner loops, compiled. Shapes, codes and ties are those of `dynamic_program`;
`in_numpy` is the same without a compiler, and a test holds the two against each other.

They release the interpreter lock, so a window stays live while a long part is planned.
"""

import numpy as np

ctypedef long long Cost

cdef Cost BARRED = 10**15  # `rules.IMPOSSIBLE`; a test holds them equal


cdef inline Cost least(Cost a, Cost b) noexcept nogil:
    return a if a < b else b


cdef Cost least_sum(
    const Cost* costs, const Cost* ends, Py_ssize_t first, Py_ssize_t last
) noexcept nogil:
    """The least of costs[k] + ends[k] from first to last, barred at most. Four at a time: each
    would else have to wait for the one before."""
    cdef Cost a = BARRED
    cdef Cost b = BARRED
    cdef Cost c = BARRED
    cdef Cost d = BARRED
    cdef Py_ssize_t k = first
    while k + 3 < last:
        a = least(a, costs[k] + ends[k])
        b = least(b, costs[k + 1] + ends[k + 1])
        c = least(c, costs[k + 2] + ends[k + 2])
        d = least(d, costs[k + 3] + ends[k + 3])
        k += 4
    while k < last:
        a = least(a, costs[k] + ends[k])
        k += 1
    return least(least(a, b), least(c, d))


cdef void leave_costs(
    Cost[:, ::1] onward, Cost[::1] join, Cost reach, const Cost[:, ::1] travel, Cost[:, ::1] after
) noexcept nogil:
    """Best cost of going on from each direction and cell: turn, hook, or lift."""
    cdef Py_ssize_t places = onward.shape[1]
    cdef Py_ssize_t k, k0, first, last, d
    cdef Cost lifted, cost, best
    for k in range(places):
        lifted = BARRED
        if reach >= 0:
            first = k - reach if k > reach else 0
            last = k + reach + 1 if k + reach + 1 < places else places
            for k0 in range(first, last):
                cost = travel[k, k0] + least(onward[0, k0], onward[1, k0]) + join[2]
                lifted = least(lifted, cost)
        for d in range(2):
            best = least(onward[1 - d, k] + join[0], onward[d, k] + join[1])
            after[d, k] = least(best, lifted)


cdef void enter_costs(
    Cost[:, ::1] before, Cost[::1] join, Cost reach, const Cost[:, ::1] travel, Cost[:, :, ::1] entry
) noexcept nogil:
    """Cost of all before with each join, at each direction and cell that is entered."""
    cdef Py_ssize_t places = before.shape[1]
    cdef Py_ssize_t k, k0, first, last, d
    cdef Cost lifted, cost
    for k0 in range(places):
        lifted = BARRED
        if reach >= 0:
            first = k0 - reach if k0 > reach else 0
            last = k0 + reach + 1 if k0 + reach + 1 < places else places
            for k in range(first, last):
                cost = travel[k, k0] + least(before[0, k], before[1, k]) + join[2]
                lifted = least(lifted, cost)
        for d in range(2):
            entry[0, d, k0] = before[1 - d, k0] + join[0]
            entry[1, d, k0] = before[d, k0] + join[1]
            entry[2, d, k0] = lifted


def run_backwards(
    const Cost[:, :, :, ::1] strokes, const Cost[::1] kind, const Cost[:, ::1] direction,
    Cost[:, ::1] join, const Cost[::1] reach, const Cost[:, ::1] travel,
    Cost[:, :, ::1] onward, Cost[:, :, ::1] after, Py_ssize_t units_n,
):
    """Fill in onward[i, d, k0] and after[i, d, k1], both of shape (N, 2, P), for so many units
    from the first; the tables hold the others."""
    cdef Py_ssize_t n = kind.shape[0]
    cdef Py_ssize_t places = strokes.shape[2]
    cdef Py_ssize_t i, d, k0, first, last, u
    cdef Cost best
    cdef Cost* ends
    with nogil:
        for i in range(units_n - 1, -1, -1):
            if i + 1 < n:
                leave_costs(onward[i + 1], join[i + 1], reach[i + 1], travel, after[i])
            u = kind[i]
            for d in range(2):
                ends = &after[i, d, 0]
                for k0 in range(places):
                    first = k0 + 1 if d == 0 else 0
                    last = places if d == 0 else k0
                    best = least_sum(&strokes[u, d, k0, 0], ends, first, last)
                    onward[i, d, k0] = best + direction[i, d]


def run_forwards(
    const Cost[:, :, :, ::1] strokes, const Cost[::1] kind, const Cost[:, ::1] direction,
    Cost[:, ::1] join, const Cost[::1] reach, const Cost[:, ::1] travel,
):
    """Entry[i, join, d, k0] of shape (N, 3, 2, P) and before[i, d, k1] of shape (N, 2, P)."""
    cdef Py_ssize_t n = kind.shape[0]
    cdef Py_ssize_t places = strokes.shape[2]
    cdef Py_ssize_t i, d, k0, k1, first, last, u
    cdef Cost start, cost
    entry_array = np.full((n, 3, 2, places), BARRED, dtype=np.int64)
    before_array = np.full((n, 2, places), BARRED, dtype=np.int64)
    cdef Cost[:, :, :, ::1] entry = entry_array
    cdef Cost[:, :, ::1] before = before_array
    with nogil:
        for i in range(n):
            if i == 0:
                for d in range(2):
                    for k0 in range(places):
                        entry[0, 0, d, k0] = 0
            else:
                enter_costs(before[i - 1], join[i], reach[i], travel, entry[i])
            u = kind[i]
            for d in range(2):
                for k0 in range(places):
                    start = least(least(entry[i, 0, d, k0], entry[i, 1, d, k0]), entry[i, 2, d, k0])
                    first = k0 + 1 if d == 0 else 0
                    last = places if d == 0 else k0
                    for k1 in range(first, last):
                        cost = start + strokes[u, d, k0, k1] + direction[i, d]
                        before[i, d, k1] = least(before[i, d, k1], cost)
    return entry_array, before_array


def trace(
    const Cost[:, :, :, ::1] strokes, const Cost[::1] kind, const Cost[:, ::1] join,
    const Cost[::1] reach, const Cost[:, ::1] travel, const Cost[:, :, ::1] onward,
    const Cost[:, :, ::1] after, Py_ssize_t first, const Cost[::1] came, const Cost[:, ::1] known,
):
    """Best steps (direction, join, start, end) from unit `first` on, shape (M, 4).

    Args:
        came: direction and end of the unit before; (−1, −1) at the start of the piece.
        known: steps by unit, shape (N, 4) or (0, 4); the trace stops before one it meets.
    """
    cdef Py_ssize_t n = kind.shape[0]
    cdef Py_ssize_t places = strokes.shape[2]
    cdef Py_ssize_t i, e, k, low, high, u, d, code, start, found = n - first
    cdef Py_ssize_t d_before = came[0]
    cdef Py_ssize_t end = came[1]
    cdef Cost best, cost
    steps_array = np.zeros((n - first, 4), dtype=np.int64)
    cdef Cost[:, ::1] steps = steps_array
    with nogil:
        for i in range(first, n):
            d = 0
            code = 0
            start = 0
            if d_before < 0:
                best = onward[i, 0, 0]
                for e in range(2):
                    for k in range(places):
                        if onward[i, e, k] < best:
                            best = onward[i, e, k]
                            d = e
                            start = k
            else:
                d = 1 - d_before
                start = end
                best = onward[i, d, end] + join[i, 0]
                cost = onward[i, d_before, end] + join[i, 1]
                if cost < best:
                    best = cost
                    d = d_before
                    code = 1
                if reach[i] >= 0:
                    low = end - reach[i] if end > reach[i] else 0
                    high = end + reach[i] + 1 if end + reach[i] + 1 < places else places
                    for e in range(2):
                        for k in range(low, high):
                            cost = onward[i, e, k] + travel[end, k] + join[i, 2]
                            if cost < best:
                                best = cost
                                d = e
                                code = 2
                                start = k
            best = BARRED * 4
            u = kind[i]
            for k in range(places):
                cost = strokes[u, d, start, k] + after[i, d, k]
                if cost < best:
                    best = cost
                    end = k
            if known.shape[0] and (
                known[i, 0] == d and known[i, 1] == code
                and known[i, 2] == start and known[i, 3] == end
            ):
                found = i - first
                break
            steps[i - first, 0] = d
            steps[i - first, 1] = code
            steps[i - first, 2] = start
            steps[i - first, 3] = end
            d_before = d
    return steps_array[:found]
