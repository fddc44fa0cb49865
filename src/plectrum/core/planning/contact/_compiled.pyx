# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True
"""The inner loops of the contact point and weight, compiled; `in_numpy` is the same without a
compiler, and a test holds the two against each other. They release the interpreter lock."""

import numpy as np

from libc.math cimport fabs, rint

ctypedef long long Cost


def own_costs(
    const double[:, ::1] fixed, const double[:, ::1] by_weight, const double[:, ::1] log_low,
    const double[:, ::1] log_width, const double[::1] log_weight, const double[:, ::1] wrong,
    const double[:, ::1] frames, const double[::1] numbers,
):
    """Cost of every place and weight at every frame by itself, shape (N, X, U): see `in_numpy`."""
    cdef Py_ssize_t n = fixed.shape[0]
    cdef Py_ssize_t places = fixed.shape[1]
    cdef Py_ssize_t weights = log_weight.shape[0]
    cdef Py_ssize_t i, a, b
    cdef double step = numbers[0], knee = numbers[1], soft = numbers[2], loud = numbers[3]
    cdef double off_neutral = numbers[4], low = numbers[5], high = numbers[6], parts = numbers[7]
    cdef double share, off, miss, size, bent, heard, outside, cost
    costs_array = np.empty((n, places, weights), dtype=np.int64)
    cdef Cost[:, :, ::1] costs = costs_array
    with nogil:
        for i in range(n):
            for a in range(places):
                for b in range(weights):
                    share = (log_weight[b] - log_low[i, a]) / log_width[i, a]
                    off = share - frames[i, 0]
                    miss = wrong[i, a] + step * off
                    size = fabs(miss)
                    bent = size if size < knee else knee
                    heard = bent * (2 * size - bent)
                    heard = heard * (loud if miss > 0 else soft)
                    heard = heard + off_neutral * (off * off)
                    outside = low - share if low - share > share - high else share - high
                    outside = outside if outside > 0 else 0.0
                    cost = fixed[i, a] + by_weight[i, b]
                    cost = cost + frames[i, 1] * heard
                    cost = cost + frames[i, 2] * (outside * outside)
                    costs[i, a, b] = <Cost>rint(cost * parts)
    return costs_array


cdef void spread(
    const Cost[:, ::1] before, Py_ssize_t step, Cost once, const Cost[::1] apart, Cost[:, ::1] out
) noexcept nogil:
    """out[a, b] = the least of before[a, b], and of any other before[a', b] with its way to a:
    once, and so much for every part of the way from a' to a."""
    cdef Py_ssize_t rows = before.shape[0]
    cdef Py_ssize_t columns = before.shape[1]
    cdef Py_ssize_t a, b
    cdef Cost cost
    for b in range(columns):
        out[0, b] = before[0, b]
    for a in range(1, rows):
        for b in range(columns):
            cost = out[a - 1, b] + step * apart[a - 1]
            out[a, b] = cost if cost < before[a, b] else before[a, b]
    for a in range(rows - 2, -1, -1):
        for b in range(columns):
            cost = out[a + 1, b] + step * apart[a]
            if cost < out[a, b]:
                out[a, b] = cost
    for a in range(rows):
        for b in range(columns):
            cost = out[a, b] + once
            out[a, b] = cost if cost < before[a, b] else before[a, b]


cdef void turned(const Cost[:, ::1] a, Cost[:, ::1] out) noexcept nogil:
    cdef Py_ssize_t i, j
    for i in range(a.shape[0]):
        for j in range(a.shape[1]):
            out[j, i] = a[i, j]


def settle(
    const Cost[:, :, ::1] own, const Cost[::1] apart, const Cost[:, ::1] moves,
    const Cost[:, ::1] leans,
):
    """The least costly way through the frames: place and weight of each, shape (N, 2).

    Args:
        own: shape (N, X, U), cost of every place and weight by itself.
        apart: shape (X - 1,), how far neighbouring places lie apart.
        moves, leans: shape (N, 2), cost of a step from the frame before, and of moving at all.
    """
    cdef Py_ssize_t n = own.shape[0]
    cdef Py_ssize_t places = own.shape[1]
    cdef Py_ssize_t weights = own.shape[2]
    cdef Py_ssize_t i, a, b, at_a = 0, at_b = 0, was_a, was_b
    cdef Cost cost, least
    table_array = np.zeros((n, places, weights), dtype=np.int64)
    rows_array = np.zeros((n, 2), dtype=np.int64)
    cdef Cost[:, :, ::1] table = table_array
    cdef Cost[:, ::1] rows = rows_array
    cdef Cost[:, ::1] moved = np.zeros((places, weights), dtype=np.int64)
    cdef Cost[:, ::1] across = np.zeros((weights, places), dtype=np.int64)
    cdef Cost[:, ::1] leaned = np.zeros((weights, places), dtype=np.int64)
    cdef Cost[::1] even = np.ones(max(weights - 1, 0), dtype=np.int64)
    cdef Cost[::1] ways = np.zeros(places, dtype=np.int64)
    with nogil:
        for a in range(1, places):
            ways[a] = ways[a - 1] + apart[a - 1]
        for i in range(n):
            if i > 0:
                spread(table[i - 1], moves[i, 0], moves[i, 1], apart, moved)
                turned(moved, across)
                spread(across, leans[i, 0], leans[i, 1], even, leaned)
            for a in range(places):
                for b in range(weights):
                    table[i, a, b] = own[i, a, b] + (leaned[b, a] if i > 0 else 0)
        for i in range(n - 1, -1, -1):
            least = -1
            was_a, was_b = at_a, at_b
            for a in range(places):
                for b in range(weights):
                    cost = table[i, a, b]
                    if i < n - 1:
                        if a != was_a:
                            cost += moves[i + 1, 1] + moves[i + 1, 0] * (
                                ways[a] - ways[was_a] if a > was_a else ways[was_a] - ways[a]
                            )
                        if b != was_b:
                            cost += leans[i + 1, 1] + leans[i + 1, 0] * (
                                b - was_b if b > was_b else was_b - b
                            )
                    if (a == 0 and b == 0) or cost < least:
                        least = cost
                        at_a, at_b = a, b
            rows[i, 0], rows[i, 1] = at_a, at_b
    return rows_array
