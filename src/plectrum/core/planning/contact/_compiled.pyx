# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True
"""The inner loops of the contact point and weight, compiled; `in_numpy` is the same without a
compiler, and a test holds the two against each other. They release the interpreter lock."""

import numpy as np

ctypedef long long Cost


cdef extern from *:
    """
    #include <math.h>

    /* Built again for processors that take four or eight numbers at once, where the compiler can;
       the right one is chosen when the program starts. */
    #if defined(__x86_64__) && defined(__gnu_linux__) && defined(__GNUC__) && !defined(__clang__)
    #define PLECTRUM_WIDE __attribute__((target_clones("avx512f", "avx2", "default")))
    #else
    #define PLECTRUM_WIDE
    #endif

    typedef long long cost_t;

    static inline cost_t smaller(cost_t a, cost_t b) { return a < b ? a : b; }

    /* What each of some weights costs at one place of a frame, in whole parts. frame holds its
       neutral share, seconds, and what a limit costs; numbers as `own_costs` has them. */
    PLECTRUM_WIDE
    static void weigh(cost_t *restrict costs, double *restrict exact, double fixed,
                      const double *by_weight, double log_low, double log_width,
                      const double *log_weight, double wrong, const double *frame,
                      const double *numbers, Py_ssize_t weights)
    {
        const double step = numbers[0], knee = numbers[1], soft = numbers[2], loud = numbers[3];
        const double off_neutral = numbers[4], low = numbers[5], high = numbers[6];
        for (Py_ssize_t b = 0; b < weights; b++) {
            const double share = (log_weight[b] - log_low) / log_width;
            const double off = share - frame[0], miss = wrong + step * off;
            const double size = fabs(miss), bent = size < knee ? size : knee;
            double heard = bent * (2 * size - bent);
            heard = heard * (miss > 0 ? loud : soft);
            heard = heard + off_neutral * (off * off);
            const double below = low - share, above = share - high;
            double outside = below > above ? below : above;
            outside = outside > 0 ? outside : 0.0;
            double cost = fixed + by_weight[b];
            cost = cost + frame[1] * heard;
            exact[b] = (cost + frame[2] * (outside * outside)) * numbers[7];
        }
        for (Py_ssize_t b = 0; b < weights; b++)
            costs[b] = (cost_t)rint(exact[b]);
    }

    /* out[a][b] = the least of before[a][b], and of any other before[a'][b] with its way to a:
       once, and so much for every part of the way from a' to a. */
    PLECTRUM_WIDE
    static void spread(cost_t *restrict out, const cost_t *restrict before, cost_t step, cost_t once,
                       const cost_t *apart, Py_ssize_t rows, Py_ssize_t columns)
    {
        for (Py_ssize_t b = 0; b < columns; b++)
            out[b] = before[b];
        for (Py_ssize_t a = 1; a < rows; a++) {
            const cost_t way = step * apart[a - 1], *own = before + a * columns;
            cost_t *to = out + a * columns, *from = to - columns;
            for (Py_ssize_t b = 0; b < columns; b++)
                to[b] = smaller(own[b], from[b] + way);
        }
        for (Py_ssize_t a = rows - 2; a >= 0; a--) {
            const cost_t way = step * apart[a];
            cost_t *to = out + a * columns, *from = to + columns;
            for (Py_ssize_t b = 0; b < columns; b++)
                to[b] = smaller(to[b], from[b] + way);
        }
        for (Py_ssize_t k = 0; k < rows * columns; k++)
            out[k] = smaller(before[k], out[k] + once);
    }

    /* Where costs with the ways to them are least, the first of equals: place * weights + weight. */
    PLECTRUM_WIDE
    static Py_ssize_t least_at(cost_t *restrict sums, const cost_t *costs, const cost_t *to_place,
                               const cost_t *to_weight, Py_ssize_t places, Py_ssize_t weights)
    {
        const Py_ssize_t count = places * weights;
        for (Py_ssize_t a = 0; a < places; a++)
            for (Py_ssize_t b = 0; b < weights; b++)
                sums[a * weights + b] = costs[a * weights + b] + to_place[a] + to_weight[b];
        cost_t best = sums[0];
        for (Py_ssize_t k = 1; k < count; k++)
            best = smaller(best, sums[k]);
        Py_ssize_t at = 0;
        while (sums[at] != best)
            at++;
        return at;
    }
    """
    void weigh(Cost* costs, double* exact, double fixed, const double* by_weight, double log_low,
               double log_width, const double* log_weight, double wrong, const double* frame,
               const double* numbers, Py_ssize_t weights) noexcept nogil
    void spread(Cost* out, const Cost* before, Cost step, Cost once, const Cost* apart,
                Py_ssize_t rows, Py_ssize_t columns) noexcept nogil
    Py_ssize_t least_at(Cost* sums, const Cost* costs, const Cost* to_place, const Cost* to_weight,
                        Py_ssize_t places, Py_ssize_t weights) noexcept nogil


cdef bint renew(
    Cost* row, const Cost* own, const Cost* reached, Py_ssize_t places, Py_ssize_t weights
) noexcept nogil:
    """Put own cost and that of getting there, by weight and place, into a row of the table; whether
    it differs now by more than what all its costs share."""
    cdef Py_ssize_t a, b
    cdef Cost cost, shared = own[0] + reached[0] - row[0]
    cdef bint differs = False
    for a in range(places):
        for b in range(weights):
            cost = own[a * weights + b] + reached[b * places + a]
            differs |= cost - row[a * weights + b] != shared
            row[a * weights + b] = cost
    return differs


def own_costs(
    const double[:, ::1] fixed, const double[:, ::1] by_weight, const double[:, ::1] log_low,
    const double[:, ::1] log_width, const double[::1] log_weight, const double[:, ::1] wrong,
    const double[:, ::1] frames, const double[::1] numbers,
):
    """Cost of every place and weight at every frame by itself, shape (N, X, U): see `in_numpy`."""
    cdef Py_ssize_t n = fixed.shape[0]
    cdef Py_ssize_t places = fixed.shape[1]
    cdef Py_ssize_t weights = log_weight.shape[0]
    cdef Py_ssize_t i, a
    costs_array = np.empty((n, places, weights), dtype=np.int64)
    cdef Cost[:, :, ::1] costs = costs_array
    cdef double[::1] exact = np.empty(weights)
    with nogil:
        for i in range(n):
            for a in range(places):
                weigh(&costs[i, a, 0], &exact[0], fixed[i, a], &by_weight[i, 0], log_low[i, a],
                      log_width[i, a], &log_weight[0], wrong[i, a], &frames[i, 0], &numbers[0],
                      weights)
    return costs_array


cdef void turned(const Cost[:, ::1] a, Cost[:, ::1] out) noexcept nogil:
    cdef Py_ssize_t i, j
    for i in range(a.shape[0]):
        for j in range(a.shape[1]):
            out[j, i] = a[i, j]


def settle(
    const Cost[:, :, ::1] own, const Cost[::1] apart, const Cost[:, ::1] moves,
    const Cost[:, ::1] leans, const unsigned char[::1] changed, Cost[:, :, ::1] table,
    Cost[:, ::1] path,
):
    """Write the least costly way through the frames over another: see `in_numpy`. Rows of the table
    are kept where neither the frame nor, but for what all its costs share, the row before it
    changed; and the way where it met an old one there."""
    cdef Py_ssize_t n = own.shape[0]
    cdef Py_ssize_t places = own.shape[1]
    cdef Py_ssize_t weights = own.shape[2]
    cdef Py_ssize_t i, a, b, at, at_a, at_b
    cdef bint differs = True
    cdef bint other_way = True
    cdef Cost[:, ::1] moved = np.zeros((places, weights), dtype=np.int64)
    cdef Cost[:, ::1] across = np.zeros((weights, places), dtype=np.int64)
    cdef Cost[:, ::1] leaned = np.zeros((weights, places), dtype=np.int64)
    cdef Cost[:, ::1] nothing = np.zeros((weights, places), dtype=np.int64)
    cdef Cost[::1] between = np.append(apart, 0)  # so that there is one to point at
    cdef Cost[::1] even = np.ones(weights, dtype=np.int64)
    cdef Cost[::1] ways = np.zeros(places, dtype=np.int64)
    cdef Cost[::1] to_place = np.zeros(places, dtype=np.int64)
    cdef Cost[::1] to_weight = np.zeros(weights, dtype=np.int64)
    cdef unsigned char[::1] renewed = np.zeros(n, dtype=np.uint8)
    with nogil:
        for a in range(1, places):
            ways[a] = ways[a - 1] + between[a - 1]
        for i in range(n):
            if not changed[i] and not differs and i > 0:
                continue
            if i == 0:
                differs = renew(&table[0, 0, 0], &own[0, 0, 0], &nothing[0, 0], places, weights)
            else:
                spread(&moved[0, 0], &table[i - 1, 0, 0], moves[i, 0], moves[i, 1], &between[0],
                       places, weights)
                turned(moved, across)
                spread(&leaned[0, 0], &across[0, 0], leans[i, 0], leans[i, 1], &even[0], weights,
                       places)
                differs = renew(&table[i, 0, 0], &own[i, 0, 0], &leaned[0, 0], places, weights)
            renewed[i] = differs or changed[i]
        other_way = n > 0 and changed[n - 1]
        for i in range(n - 1, -1, -1):
            if not renewed[i] and not other_way:
                continue
            if i < n - 1:
                at_a, at_b = path[i + 1, 0], path[i + 1, 1]
                for a in range(places):
                    to_place[a] = 0 if a == at_a else moves[i + 1, 1] + moves[i + 1, 0] * (
                        ways[a] - ways[at_a] if a > at_a else ways[at_a] - ways[a]
                    )
                for b in range(weights):
                    to_weight[b] = 0 if b == at_b else leans[i + 1, 1] + leans[i + 1, 0] * (
                        b - at_b if b > at_b else at_b - b
                    )
            at = least_at(&moved[0, 0], &table[i, 0, 0], &to_place[0], &to_weight[0], places, weights)
            at_a, at_b = at // weights, at % weights
            other_way = changed[i] or path[i, 0] != at_a or path[i, 1] != at_b
            path[i, 0], path[i, 1] = at_a, at_b
