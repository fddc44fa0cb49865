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


cdef extern from *:
    """
    /* The loops in which nearly all the time goes. Where the compiler can, they are built again for
       processors that take four or eight costs at once, and the right one is chosen when the
       program starts. */
    #if defined(__x86_64__) && defined(__gnu_linux__) && defined(__GNUC__) && !defined(__clang__)
    #define PLECTRUM_WIDE __attribute__((target_clones("avx512f", "avx2", "default")))
    #else
    #define PLECTRUM_WIDE
    #endif

    

    typedef long long cost_t;

    static inline cost_t smaller(cost_t a, cost_t b) { return a < b ? a : b; }

    PLECTRUM_WIDE
    static void lower(cost_t *restrict out, const cost_t *costs, const cost_t *others,
                      Py_ssize_t count)
    {
        for (Py_ssize_t k = 0; k < count; k++)
            out[k] = smaller(out[k], costs[k] + others[k]);
    }

    PLECTRUM_WIDE
    static void lower_by(cost_t *restrict out, const cost_t *costs, cost_t more, Py_ssize_t count)
    {
        for (Py_ssize_t k = 0; k < count; k++)
            out[k] = smaller(out[k], costs[k] + more);
    }

    PLECTRUM_WIDE
    static cost_t least_sum(const cost_t *costs, const cost_t *others, Py_ssize_t count)
    {
        cost_t least = costs[0] + others[0];
        for (Py_ssize_t k = 1; k < count; k++)
            least = smaller(least, costs[k] + others[k]);
        return least;
    }

    static inline void fill(cost_t *out, cost_t cost, Py_ssize_t count)
    {
        for (Py_ssize_t k = 0; k < count; k++)
            out[k] = cost;
    }

    PLECTRUM_WIDE
    static void fill_many(cost_t *out, cost_t cost, Py_ssize_t count) { fill(out, cost, count); }

    PLECTRUM_WIDE
    static void raise_by(cost_t *out, cost_t more, Py_ssize_t count)
    {
        for (Py_ssize_t k = 0; k < count; k++)
            out[k] += more;
    }

    /* As many costs as are taken at once; a row has at least so many. The last of a row are taken with
       some before them once more, which changes no minimum and is quicker than one by one. */
    #define WIDTH 8

    /* met[s][d][k] becomes the least cost of a next bow, turned or hooked, of any length that is
       not barred; join[l][d][j] is that of the next bow. */
    PLECTRUM_WIDE
    static void meet_bows(cost_t *restrict met, const cost_t *onward, const cost_t *join,
                          const cost_t *kind, Py_ssize_t lengths, Py_ssize_t speeds,
                          Py_ssize_t places, cost_t barred)
    {
        fill(met, barred, 2 * speeds * places);
        for (Py_ssize_t l = 0; l < lengths; l++) {
            if (kind[l] < 0)
                continue;
            const cost_t turn_down = join[6 * l], hook_down = join[6 * l + 1];
            const cost_t turn_up = join[6 * l + 3], hook_up = join[6 * l + 4];
            for (Py_ssize_t s = 0; s < speeds; s++) {
                const cost_t *down = onward + 2 * (l * speeds + s) * places, *up = down + places;
                cost_t *after_down = met + 2 * s * places, *after_up = after_down + places;
                for (Py_ssize_t k = 0; k < places; k++) {
                    cost_t best = smaller(up[k] + turn_up, down[k] + hook_down);
                    after_down[k] = smaller(after_down[k], best);
                }
                for (Py_ssize_t k = 0; k < places; k++) {
                    cost_t best = smaller(down[k] + turn_down, up[k] + hook_up);
                    after_up[k] = smaller(after_up[k], best);
                }
            }
        }
    }

    /* out[s] becomes the least over speeds t of met[t] and the evenness from s to t, for each s from
       first to before last; a row has count costs. */
    PLECTRUM_WIDE
    static void even_out(cost_t *restrict out, const cost_t *met, const cost_t *evenness,
                         Py_ssize_t first, Py_ssize_t last, Py_ssize_t speeds, Py_ssize_t count,
                         cost_t barred)
    {
        for (Py_ssize_t k = 0; k < count; k += WIDTH) {
            const Py_ssize_t at = k + WIDTH <= count ? k : count - WIDTH;
            for (Py_ssize_t s = first; s < last; s++) {
                cost_t least[WIDTH];
                fill(least, barred, WIDTH);
                for (Py_ssize_t t = 0; t < speeds; t++) {
                    const cost_t *from = met + t * count + at, more = evenness[s * speeds + t];
                    for (Py_ssize_t j = 0; j < WIDTH; j++)
                        least[j] = smaller(least[j], from[j] + more);
                }
                for (Py_ssize_t j = 0; j < WIDTH; j++)
                    out[s * count + at + j] = least[j];
            }
        }
    }

    /* The strokes of one kind: see `stroke_costs`; extra is 0 where it has none. */
    typedef struct {
        const cost_t *by_length, *by_place, *ends, *extra;
    } strokes_t;

    /* row[low] becomes the cost of the strokes of one length, their extra costs left out. */
    static inline void plain_row(cost_t *restrict row, strokes_t of, Py_ssize_t length,
                                 Py_ssize_t places)
    {
        const cost_t by_length = of.by_length[length], *ends = of.ends + length * places;
        const cost_t *by_place = of.by_place + (length & 1) * places + (length >> 1);
        for (Py_ssize_t k = 0; k < places - length; k++)
            row[k] = ends[k] + by_place[k] + by_length;
    }

    /* The same with their extra costs, of one direction. */
    PLECTRUM_WIDE
    static void stroke_row(cost_t *restrict row, strokes_t of, Py_ssize_t up, Py_ssize_t length,
                           Py_ssize_t places)
    {
        plain_row(row, of, length, places);
        if (of.extra) {
            const cost_t *extra = of.extra + (up * places + length) * places;
            for (Py_ssize_t k = 0; k < places - length; k++)
                row[k] += extra[k];
        }
    }

    static inline void begin_some(cost_t *restrict from_down, cost_t *restrict from_up,
                                  const cost_t *ends, const cost_t *by_place, cost_t by_length,
                                  const cost_t *to_down, const cost_t *to_up, Py_ssize_t count)
    {
        for (Py_ssize_t k = 0; k < count; k++) {
            const cost_t cost = ends[k] + by_place[k] + by_length;
            from_down[k] = smaller(from_down[k], cost + to_down[k]);
            from_up[k] = smaller(from_up[k], cost + to_up[k]);
        }
    }

    /* onward[s][d][k] becomes the cost of the best bow that starts there and of all after it. */
    PLECTRUM_WIDE
    static void begin_bows(cost_t *restrict onward, strokes_t of, const cost_t *speed_of,
                           const cost_t *restrict after, const cost_t *direction,
                           Py_ssize_t speeds, Py_ssize_t places, cost_t barred)
    {
        fill(onward, barred, 2 * speeds * places);
        for (Py_ssize_t length = 1; length < places; length++) {
            const Py_ssize_t at = 2 * speed_of[length] * places, count = places - length;
            cost_t *restrict from_down = onward + at, *restrict from_up = from_down + places + length;
            const cost_t *to_down = after + at + length, *to_up = after + at + places;
            const cost_t *ends = of.ends + length * places;
            const cost_t *by_place = of.by_place + (length & 1) * places + (length >> 1);
            const cost_t by_length = of.by_length[length];
            if (of.extra) {
                const cost_t *down = of.extra + length * places, *up = down + places * places;
                for (Py_ssize_t k = 0; k < count; k++) {
                    const cost_t cost = ends[k] + by_place[k] + by_length;
                    from_down[k] = smaller(from_down[k], cost + down[k] + to_down[k]);
                    from_up[k] = smaller(from_up[k], cost + up[k] + to_up[k]);
                }
            } else if (count >= WIDTH) {
                for (Py_ssize_t k = 0; k < count; k += WIDTH) {
                    const Py_ssize_t first = k + WIDTH <= count ? k : count - WIDTH;
                    begin_some(from_down + first, from_up + first, ends + first, by_place + first,
                               by_length, to_down + first, to_up + first, WIDTH);
                }
            } else
                begin_some(from_down, from_up, ends, by_place, by_length, to_down, to_up, count);
        }
        for (Py_ssize_t s = 0; s < speeds; s++)
            for (Py_ssize_t d = 0; d < 2; d++)
                raise_by(onward + (2 * s + d) * places, direction[d], places);
    }
    """
    # out[k] becomes the least of itself and costs[k] + others[k], or costs[k] + more.
    void lower(Cost* out, const Cost* costs, const Cost* others, Py_ssize_t count) noexcept nogil
    void lower_by(Cost* out, const Cost* costs, Cost more, Py_ssize_t count) noexcept nogil
    Cost least_sum(const Cost* costs, const Cost* others, Py_ssize_t count) noexcept nogil
    void fill_many(Cost* out, Cost cost, Py_ssize_t count) noexcept nogil
    void raise_by(Cost* out, Cost more, Py_ssize_t count) noexcept nogil
    void meet_bows(Cost* met, const Cost* onward, const Cost* join, const Cost* kind,
                   Py_ssize_t lengths, Py_ssize_t speeds, Py_ssize_t places,
                   Cost barred) noexcept nogil
    void even_out(Cost* out, const Cost* met, const Cost* evenness, Py_ssize_t first,
                  Py_ssize_t last, Py_ssize_t speeds, Py_ssize_t count, Cost barred) noexcept nogil
    ctypedef struct strokes_t:
        const Cost* by_length
        const Cost* by_place
        const Cost* ends
        const Cost* extra
    void stroke_row(Cost* row, strokes_t of, Py_ssize_t up, Py_ssize_t length,
                    Py_ssize_t places) noexcept nogil
    void begin_bows(Cost* onward, strokes_t of, const Cost* speed_of, const Cost* after,
                    const Cost* direction, Py_ssize_t speeds, Py_ssize_t places,
                    Cost barred) noexcept nogil


cdef strokes_t strokes_of(
    const Cost[:, ::1] by_length, const Cost[:, :, ::1] by_place, const Cost[:, ::1] ends,
    const Cost[:, :, :, ::1] extra, const Cost[::1] extra_of, Py_ssize_t kind,
) noexcept nogil:
    """The strokes of one kind."""
    cdef strokes_t of
    of.by_length, of.by_place, of.ends = &by_length[kind, 0], &by_place[kind, 0, 0], &ends[0, 0]
    of.extra = &extra[extra_of[kind], 0, 0, 0] if extra_of[kind] >= 0 else NULL
    return of


cdef void lift_costs(
    const Cost* costs, Cost reach, const Cost[::1] travel, Py_ssize_t places, Cost* lifted
) noexcept nogil:
    """The least cost of each cell's neighbours within reach, with the way there."""
    cdef Py_ssize_t k, other, first, last
    for k in range(places):
        lifted[k] = BARRED
        first = k - reach if k > reach else 0
        last = k + reach + 1 if k + reach + 1 < places else places
        for other in range(first, last):
            lifted[k] = least(lifted[k], costs[other] + travel[k - other if k > other else other - k])


cdef void leave_costs(
    Cost[:, :, :, ::1] onward, const Cost[:, :, ::1] join, const Cost[::1] kind, Cost reach,
    const Cost[::1] travel, const Cost[:, ::1] evenness, Cost[:, :, ::1] met, Cost[:, ::1] free,
    Cost[:, :, ::1] after, Py_ssize_t first, Py_ssize_t last,
) noexcept nogil:
    """Best cost of going on after a bow of each direction and end and each speed from first to
    before last: turn, hook, or lift.

    onward, join and kind are those of the bows that may follow; met and free are for work.
    """
    cdef Py_ssize_t lengths = onward.shape[0]
    cdef Py_ssize_t speeds = onward.shape[1]
    cdef Py_ssize_t places = onward.shape[3]
    cdef Py_ssize_t l, s, d
    meet_bows(&met[0, 0, 0], &onward[0, 0, 0, 0], &join[0, 0, 0], &kind[0], lengths, speeds, places,
              BARRED)
    even_out(&after[0, 0, 0], &met[0, 0, 0], &evenness[0, 0], first, last, speeds, 2 * places, BARRED)
    if reach < 0:
        return
    free[:, :] = BARRED
    for l in range(lengths):
        if kind[l] >= 0:
            for s in range(speeds):
                for d in range(2):
                    lower_by(&free[0, 0], &onward[l, s, d, 0], join[l, d, 2], places)
    lift_costs(&free[0, 0], reach, travel, places, &free[1, 0])
    for s in range(first, last):
        for d in range(2):
            lower_by(&after[s, d, 0], &free[1, 0], 0, places)


cdef inline Cost[:, :, :, ::1] of_unit(
    Cost[:, :, :, :, ::1] base, Cost[:, :, :, :, ::1] own, const Cost[::1] where, Py_ssize_t i,
) noexcept nogil:
    """The costs of one unit: see `dynamic_program.Onward`."""
    if where[i] >= 0:
        return base[where[i]]
    return own[-1 - where[i]]


cdef bint shifted(const Cost* costs, const Cost* others, Py_ssize_t count, Cost* by) noexcept nogil:
    """Whether costs differ from others by one and the same amount; what is barred is barred in
    both."""
    cdef Py_ssize_t k
    cdef bint known = False
    by[0] = 0
    for k in range(count):
        if costs[k] >= BARRED // 2 or others[k] >= BARRED // 2:
            if costs[k] < BARRED // 2 or others[k] < BARRED // 2:
                return False
        elif not known:
            by[0], known = costs[k] - others[k], True
        elif costs[k] - others[k] != by[0]:
            return False
    return True


cdef void children_of(const Cost[::1] before, Cost[:, ::1] next_of) noexcept nogil:
    """next_of[0, e]: the first unit that is played after e; next_of[1, i]: the next after i of
    those that follow the same unit; −1 where there is none."""
    cdef Py_ssize_t i
    next_of[:, :] = -1
    for i in range(before.shape[0] - 1, 0, -1):
        next_of[1, i] = next_of[0, before[i]]
        next_of[0, before[i]] = i


cdef void add_costs(Cost[:, :, ::1] costs, Cost[:, :, ::1] others) noexcept nogil:
    cdef Py_ssize_t k
    cdef Cost* sums = &costs[0, 0, 0]
    cdef const Cost* more = &others[0, 0, 0]
    for k in range(costs.shape[0] * costs.shape[1] * costs.shape[2]):
        sums[k] += more[k]


def run_backwards(
    const Cost[:, ::1] by_length, const Cost[:, :, ::1] by_place, const Cost[:, ::1] ends,
    const Cost[:, :, :, ::1] extra, const Cost[::1] extra_of,
    const Cost[:, ::1] speed_of, const Cost[:, ::1] kind,
    const Cost[:, :, ::1] direction, const Cost[:, :, :, :, ::1] join, const Cost[::1] reach,
    const Cost[::1] travel, const Cost[::1] before, const Cost[::1] even,
    const Cost[:, :, ::1] evenness,
    Cost[:, :, :, :, ::1] base, Cost[:, :, :, :, ::1] known, const Cost[::1] known_where,
    const Cost[::1] known_shift, const unsigned char[::1] changed,
    Cost[:, :, :, :, ::1] own, Cost[::1] where, Cost[::1] shift, unsigned char[::1] differs,
):
    """The table of the way back from an earlier one: see `in_numpy`."""
    cdef Py_ssize_t n = kind.shape[0]
    cdef Py_ssize_t lengths = kind.shape[1]
    cdef Py_ssize_t speeds = own.shape[2]
    cdef Py_ssize_t places = own.shape[4]
    cdef Py_ssize_t count = lengths * speeds * 2 * places
    cdef Py_ssize_t i, l, q, made = 0, carried = 0
    cdef bint again
    cdef Cost by
    shape = speeds, 2, places
    cdef Cost[:, :, ::1] met = np.empty(shape, dtype=np.int64)
    cdef Cost[:, :, ::1] after = np.empty(shape, dtype=np.int64)
    cdef Cost[:, ::1] free = np.empty((2, places), dtype=np.int64)
    cdef Cost[:, :, ::1] beside = np.empty(shape, dtype=np.int64)
    cdef Cost[::1] moved = np.zeros(n + 1, dtype=np.int64)  # against the earlier table
    cdef Cost[:, ::1] next_of = np.empty((2, n), dtype=np.int64)
    cdef Cost first_moved, all_moved
    cdef Cost[::1] way = np.empty(2, dtype=np.int64)
    cdef strokes_t of
    with nogil:
        children_of(before, next_of)
        for i in range(n - 1, -1, -1):
            again = changed[i]
            first_moved = 0
            for l in range(least(lengths, n - i)):
                all_moved = 0
                q = next_of[0, i + l]
                while q >= 0:
                    again = again or changed[q] or differs[q]
                    all_moved += moved[q]
                    q = next_of[1, q]
                if l == 0:
                    first_moved = all_moved
                elif kind[i, l] >= 0 and all_moved != first_moved:
                    again = True
            if not again:
                moved[i] = first_moved
                shift[i] = known_shift[i] + moved[i]
                where[i] = known_where[i]
                if where[i] < 0:
                    own[made, :, :, :, :] = known[-1 - known_where[i], :, :, :, :]
                    where[i] = -1 - made
                    made += 1
                    carried += 1
                continue
            for l in range(lengths):
                if kind[i, l] < 0:
                    own[made, l, :, :, :] = BARRED
                    continue
                q = next_of[0, i + l]
                way[0], way[1] = direction[i, l, 0], direction[i, l, 1]
                if q < 0:
                    after[:, :, :] = 0
                else:
                    leave_costs(of_unit(base, own, where, q), join[q, l], kind[q], reach[q], travel,
                                evenness[even[q]], met, free, after, 0, speeds)
                while q >= 0:
                    way[0] += shift[q]
                    way[1] += shift[q]
                    q = next_of[1, q]
                    if q >= 0:
                        leave_costs(of_unit(base, own, where, q), join[q, l], kind[q], reach[q],
                                    travel, evenness[even[q]], met, free, beside, 0, speeds)
                        add_costs(after, beside)
                of = strokes_of(by_length, by_place, ends, extra, extra_of, kind[i, l])
                begin_bows(&own[made, l, 0, 0, 0], of, &speed_of[kind[i, l], 0],
                           &after[0, 0, 0], &way[0], speeds, places, BARRED)
            where[i], shift[i], differs[i] = -1 - made, 0, True
            if known_where.shape[0]:
                differs[i] = not shifted(
                    &own[made, 0, 0, 0, 0], &of_unit(base, known, known_where, i)[0, 0, 0, 0],
                    count, &by)
                moved[i] = by - known_shift[i]
            made += 1
    return made, carried


cdef void enter_costs(
    Cost[:, :, :, ::1] held, const Cost[:, :, :, ::1] join, Cost[:, ::1] lifted, Py_ssize_t before_n,
    Py_ssize_t l, Cost reach, Cost[:, :, :, ::1] entry,
) noexcept nogil:
    """entry[join, s, d, k0]: cost of all before a bow of length l. held[l', s, d, k] is that of
    the bows that may come before, their evenness to speed s included; lifted[l', k] after a lift."""
    cdef Py_ssize_t places = held.shape[3]
    cdef Py_ssize_t speeds = held.shape[1]
    cdef Py_ssize_t b, s, d
    fill_many(&entry[0, 0, 0, 0], BARRED, 6 * speeds * places)
    for b in range(before_n):
        for s in range(speeds):
            for d in range(2):
                lower_by(&entry[0, s, d, 0], &held[b, s, 1 - d, 0], join[b, l, d, 0], places)
                lower_by(&entry[1, s, d, 0], &held[b, s, d, 0], join[b, l, d, 1], places)
                if reach >= 0:
                    lower_by(&entry[2, s, d, 0], &lifted[b, 0], join[b, l, d, 2], places)


cdef void hold_costs(
    Cost[:, :, ::1] before, const Cost[:, ::1] evenness, Cost reach, const Cost[::1] travel,
    Cost[:, :, ::1] held, Cost[::1] free, Cost[::1] lifted,
) noexcept nogil:
    """For one length of the bow before: its cost as the next bow's speed finds it, and lifted."""
    cdef Py_ssize_t speeds = before.shape[0]
    cdef Py_ssize_t places = before.shape[2]
    cdef Py_ssize_t s, t, d
    fill_many(&held[0, 0, 0], BARRED, 2 * speeds * places)
    for t in range(speeds):
        for s in range(speeds):
            lower_by(&held[t, 0, 0], &before[s, 0, 0], evenness[s, t], 2 * places)
    if reach < 0:
        return
    free[:] = BARRED
    for s in range(speeds):
        for d in range(2):
            lower_by(&free[0], &before[s, d, 0], 0, places)
    lift_costs(&free[0], reach, travel, places, &lifted[0])


def run_forwards(
    const Cost[:, ::1] by_length, const Cost[:, :, ::1] by_place, const Cost[:, ::1] ends,
    const Cost[:, :, :, ::1] extra, const Cost[::1] extra_of,
    const Cost[:, ::1] speed_of, const Cost[:, ::1] kind,
    const Cost[:, :, ::1] direction, const Cost[:, :, :, :, ::1] join, const Cost[::1] reach,
    const Cost[::1] travel, const Cost[::1] before, const Cost[::1] even,
    const Cost[:, :, ::1] evenness,
    Cost[:, :, :, :, ::1] onward,
):
    """Before[i, l, s, d, k1], as onward but up to and with the bow of length l that ends with
    unit i; and through[i, l, d, join], the least cost of the whole with such a bow from unit i."""
    cdef Py_ssize_t n = kind.shape[0]
    cdef Py_ssize_t lengths = kind.shape[1]
    cdef Py_ssize_t speeds = onward.shape[2]
    cdef Py_ssize_t places = onward.shape[4]
    cdef Py_ssize_t i, l, b, u, s, d, j, length, end, other
    so_far_array = np.full((n, lengths, speeds, 2, places), BARRED, dtype=np.int64)
    through_array = np.full((n, lengths, 2, 3), BARRED, dtype=np.int64)
    cdef Cost[:, :, :, :, ::1] so_far = so_far_array
    cdef Cost[:, :, :, ::1] through = through_array
    cdef Cost[:, :, :, ::1] held = np.full((lengths, speeds, 2, places), BARRED, dtype=np.int64)
    cdef Cost[:, ::1] lifted = np.full((lengths, places), BARRED, dtype=np.int64)
    cdef Cost[:, :, :, ::1] entry = np.full((3, speeds, 2, places), BARRED, dtype=np.int64)
    cdef Cost[::1] free = np.full(places, BARRED, dtype=np.int64)
    cdef Cost[::1] row = np.empty(places, dtype=np.int64)
    cdef Cost[:, :, ::1] met = np.empty((speeds, 2, places), dtype=np.int64)
    cdef Cost[:, :, ::1] beside = np.empty((speeds, 2, places), dtype=np.int64)
    cdef Cost[:, :, ::1] came = np.empty((speeds, 2, places), dtype=np.int64)
    cdef Cost[:, ::1] way = np.empty((2, places), dtype=np.int64)
    cdef Cost[:, ::1] next_of = np.empty((2, n), dtype=np.int64)
    cdef strokes_t of
    with nogil:
        children_of(before, next_of)
        for i in range(n):
            end = before[i]
            for b in range(least(lengths, end + 1)):
                if kind[end - b, b] < 0:
                    held[b, :, :, :] = BARRED
                    lifted[b, :] = BARRED
                    continue
                came[:, :, :] = so_far[end, b]
                other = next_of[0, end]
                while other >= 0:
                    if other != i:
                        leave_costs(onward[other], join[other, b], kind[other], reach[other],
                                    travel, evenness[even[other]], met, way, beside, 0, speeds)
                        add_costs(came, beside)
                    other = next_of[1, other]
                hold_costs(came, evenness[even[i]], reach[i], travel, held[b], free, lifted[b])
            for l in range(lengths):
                u = kind[i, l]
                if u < 0:
                    continue
                of = strokes_of(by_length, by_place, ends, extra, extra_of, u)
                if i == 0:
                    entry[:, :, :, :] = BARRED
                    entry[0, :, :, :] = 0
                else:
                    enter_costs(held, join[i], lifted, least(lengths, end + 1), l, reach[i], entry)
                for j in range(3):
                    for s in range(speeds):
                        for d in range(2):
                            through[i, l, d, j] = least(
                                through[i, l, d, j],
                                least_sum(&entry[j, s, d, 0], &onward[i, l, s, d, 0], places),
                            )
                for s in range(speeds):
                    lower_by(&entry[0, s, 0, 0], &entry[1, s, 0, 0], 0, 2 * places)
                    lower_by(&entry[0, s, 0, 0], &entry[2, s, 0, 0], 0, 2 * places)
                for length in range(1, places):
                    s = speed_of[u, length]
                    stroke_row(&row[0], of, 0, length, places)
                    lower(&so_far[i + l, l, s, 0, length], &row[0], &entry[0, s, 0, 0],
                          places - length)
                    if of.extra != NULL:
                        stroke_row(&row[0], of, 1, length, places)
                    lower(&so_far[i + l, l, s, 1, 0], &row[0], &entry[0, s, 1, length],
                          places - length)
                for s in range(speeds):
                    for d in range(2):
                        raise_by(&so_far[i + l, l, s, d, 0], direction[i, l, d], places)
    return so_far_array, through_array


cdef struct Bow:
    Cost cost
    Py_ssize_t join
    Py_ssize_t at  # offset in onward[l, s, d, k] of where it starts


cdef inline void offer(Bow* best, Cost cost, Py_ssize_t join, Py_ssize_t at) noexcept nogil:
    if cost < best.cost:
        best.cost, best.join, best.at = cost, join, at


cdef inline const Cost* costs_of(
    Cost[:, :, :, :, ::1] base, Cost[:, :, :, :, ::1] own, const Cost[::1] where, Py_ssize_t i,
) noexcept nogil:
    """As `of_unit`, without its shape, which takes longer to hand on than a bow to choose."""
    return &base[where[i], 0, 0, 0, 0] if where[i] >= 0 else &own[-1 - where[i], 0, 0, 0, 0]


cdef Bow next_bow(
    const Cost* onward, Py_ssize_t lengths, Py_ssize_t speeds, Py_ssize_t places, const Cost* join,
    Cost reach, const Cost* travel, const Cost* evenness, Py_ssize_t direction, Py_ssize_t end,
) noexcept nogil:
    """The best bow to follow: turn before hook before lift, down before up, frog before tip.

    onward[l, s, d, k] and join[l, d, j] are those of the bows that may follow, evenness[s] is that
    of the bow before.
    """
    cdef Py_ssize_t l, s, d, j, k, at, low, high
    cdef Cost more
    cdef Bow best
    best.cost, best.join, best.at = BARRED * 8, 0, 0
    for j in range(2):
        d = 1 - direction if j == 0 else direction
        for l in range(lengths):
            at = (2 * l * speeds + d) * places + end
            more = join[6 * l + 3 * d + j]
            for s in range(speeds):
                offer(&best, onward[at] + more + evenness[s], j, at)
                at += 2 * places
    if reach >= 0:
        low = end - reach if end > reach else 0
        high = end + reach + 1 if end + reach + 1 < places else places
        for d in range(2):
            for k in range(low, high):
                for l in range(lengths):
                    at = (2 * l * speeds + d) * places + k
                    more = join[6 * l + 3 * d + 2] + travel[k - end if k > end else end - k]
                    for s in range(speeds):
                        offer(&best, onward[at] + more, 2, at)
                        at += 2 * places
    return best


cdef Bow first_bow(
    const Cost* onward, Py_ssize_t lengths, Py_ssize_t speeds, Py_ssize_t places
) noexcept nogil:
    cdef Py_ssize_t rows, d, k, at
    cdef Bow best
    best.cost, best.join, best.at = BARRED * 8, 0, 0
    for d in range(2):
        for k in range(places):
            at = d * places + k
            for rows in range(lengths * speeds):
                offer(&best, onward[at], 0, at)
                at += 2 * places
    return best


cdef inline bint alike(
    const unsigned char[::1] changed, const unsigned char[::1] differs, Cost[:, ::1] next_of,
    Py_ssize_t i, Py_ssize_t lengths,
) noexcept nogil:
    """Whether neither a unit nor those that may follow its bow are others than before."""
    cdef Py_ssize_t k, q
    for k in range(i, least(i + lengths, changed.shape[0])):
        if changed[k] or differs[k]:
            return False
        q = next_of[0, k]
        while q >= 0:
            if changed[q] or differs[q]:
                return False
            q = next_of[1, q]
    return True


def trace(
    const Cost[:, ::1] by_length, const Cost[:, :, ::1] by_place, const Cost[:, ::1] ends,
    const Cost[:, :, :, ::1] extra, const Cost[::1] extra_of,
    const Cost[:, ::1] speed_of, const Cost[:, ::1] kind,
    const Cost[:, :, ::1] direction, const Cost[:, :, :, :, ::1] join, const Cost[::1] reach,
    const Cost[::1] travel, const Cost[::1] before, const Cost[::1] even,
    const Cost[:, :, ::1] evenness,
    Cost[:, :, :, :, ::1] base, Cost[:, :, :, :, ::1] own, const Cost[::1] where, Py_ssize_t first,
    const Cost[::1] came, const Cost[:, ::1] known, const unsigned char[::1] changed,
    const unsigned char[::1] differs,
):
    """Best bows (first unit, units, direction, join, start, end) from unit `first` on, of what
    follows in playing.

    Args:
        came: units, speed, direction and end of the bow before; units 0 at the start of the piece.
        known: bows of an earlier table by their first unit, shape (N, 6) or (0, 6). changed,
            differs: as in `run_backwards`; where neither is and the bow before is the same, so is
            the next.
    """
    cdef Py_ssize_t n = kind.shape[0]
    cdef Py_ssize_t lengths = kind.shape[1]
    cdef Py_ssize_t speeds = own.shape[2]
    cdef Py_ssize_t places = ends.shape[0]
    cdef Py_ssize_t i = first
    cdef Py_ssize_t found = 0
    cdef Py_ssize_t k, low, length, l, s, d, start, u, q
    cdef Py_ssize_t units, speed, direction_before, end, e
    cdef Cost best, cost
    cdef Bow bow, after_it, following
    cdef Py_ssize_t foreseen = -1  # the unit whose following bow is that of the end chosen
    shape = speeds, 2, places
    cdef Cost[:, :, ::1] met = np.empty(shape, dtype=np.int64)
    cdef Cost[:, :, ::1] after = np.empty(shape, dtype=np.int64)
    cdef Cost[:, :, ::1] beside = np.empty(shape, dtype=np.int64)
    cdef Cost[:, ::1] free = np.empty((2, places), dtype=np.int64)
    cdef Cost[:, ::1] next_of = np.empty((2, n), dtype=np.int64)
    cdef bint lifted
    rows_array = np.zeros((max(n - first, 0), 6), dtype=np.int64)
    cdef Cost[:, ::1] rows = rows_array
    # By the last unit of each bow: units, speed, direction, end, and whether it goes as it went;
    # the first row is that of the bow before all.
    bows_array = np.full((max(n - first, 0) + 1, 5), -1, dtype=np.int64)
    cdef Cost[:, ::1] bows = bows_array
    bows_array[0, :4] = came
    bows_array[0, 4] = known.shape[0] > 0 and came[0] == 0
    cdef bint together
    with nogil:
        children_of(before, next_of)
        while i < n:
            e = before[i] - first + 1 if i > first else 0
            if i > first and (e < 1 or bows[e, 0] < 0):
                i += 1
                continue
            units, speed, direction_before, end = bows[e, 0], bows[e, 1], bows[e, 2], bows[e, 3]
            if bows[e, 4] and alike(changed, differs, next_of, i, kind.shape[1]):
                rows[found] = known[i]
                found += 1
                units, d, end = known[i, 1], known[i, 2], known[i, 5]
                length = end - known[i, 4] if d == 0 else known[i, 4] - end
                e = i + units - first
                bows[e, 0], bows[e, 1] = units, speed_of[kind[i, units - 1], length]
                bows[e, 2], bows[e, 3], bows[e, 4] = d, end, 1
                i += units
                continue
            if units == 0:
                bow = first_bow(costs_of(base, own, where, i), lengths, speeds, places)
            elif foreseen == i:
                bow = following
            else:
                bow = next_bow(costs_of(base, own, where, i), lengths, speeds, places,
                               &join[i, units - 1, 0, 0, 0], reach[i], &travel[0],
                               &evenness[even[i], speed, 0], direction_before, end)
            l, s = bow.at // (2 * speeds * places), bow.at // (2 * places) % speeds
            d, start = bow.at // places % 2, bow.at % places
            u = kind[i, l]
            q = next_of[0, i + l]
            lifted = q >= 0 and (reach[q] >= 0 or next_of[1, q] >= 0)
            if lifted:  # from every end to every start: worked out for all ends at once
                leave_costs(of_unit(base, own, where, q), join[q, l], kind[q], reach[q], travel,
                            evenness[even[q]], met, free, after, s, s + 1)
                e = next_of[1, q]
                while e >= 0:
                    leave_costs(of_unit(base, own, where, e), join[e, l], kind[e], reach[e],
                                travel, evenness[even[e]], met, free, beside, s, s + 1)
                    for d in range(2):
                        for k in range(places):
                            after[s, d, k] += beside[s, d, k]
                    e = next_of[1, e]
                d = bow.at // places % 2
            best = BARRED * 8
            for k in range(places):
                length = k - start if d == 0 else start - k
                if length < 1 or speed_of[u, length] != s:
                    continue
                low = start if d == 0 else k
                cost = (by_length[u, length] + by_place[u, length & 1, (length >> 1) + low]
                        + ends[length, low])
                if extra_of[u] >= 0:
                    cost += extra[extra_of[u], d, length, low]
                if lifted:
                    cost += after[s, d, k]
                elif q >= 0:
                    after_it = next_bow(costs_of(base, own, where, q), lengths, speeds, places,
                                     &join[q, l, 0, 0, 0], reach[q], &travel[0],
                                     &evenness[even[q], s, 0], d, k)
                    cost += least(after_it.cost, BARRED)
                if cost < best:
                    best, end, following = cost, k, after_it
            foreseen = -1 if lifted else q
            together = (
                known.shape[0] and not changed[i] and known[i, 1] == l + 1
                and known[i, 2] == d and known[i, 3] == bow.join and known[i, 4] == start
                and known[i, 5] == end
            )
            rows[found, 0], rows[found, 1], rows[found, 2] = i, l + 1, d
            rows[found, 3], rows[found, 4], rows[found, 5] = bow.join, start, end
            found += 1
            i += l + 1
            e = i - first
            bows[e, 0], bows[e, 1], bows[e, 2], bows[e, 3], bows[e, 4] = l + 1, s, d, end, together
    return rows_array[:found]
