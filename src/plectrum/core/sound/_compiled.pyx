# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True
"""The sample-by-sample loops of the sound, compiled; `in_python` is the same without a compiler."""

from libc.math cimport atan2, cos, fabs, floor, sin, sqrt

cdef double PI = 3.141592653589793


def run_string(
    double rate, const double[::1] f0_hz, const double[::1] beta, const double[::1] speed,
    const double[::1] force, const double[::1] pluck, const double[::1] damping, double z,
    double rounding, double reflect, double dynamic_friction, double friction_difference,
    double fall_share, double[:, ::1] lines, double[::1] state, double[::1] out,
):
    """Advance one string; see `String.run`. `lines` and `state` are what it remembers."""
    cdef long long mask = lines.shape[1] - 1
    cdef long long at = <long long>state[2]
    cdef long long k
    cdef Py_ssize_t i
    cdef double[::1] to_nut = lines[0]
    cdef double[::1] to_bridge = lines[1]
    cdef double smooth = state[0]
    cdef bint sticking = state[1] > 0.5
    cdef double last_f0 = -1.0
    cdef double phase = 0.0
    cdef double f0, w, period, x, share, from_nut, arriving, from_bridge, push
    cdef double miss, sign, low, fall, v0, b, rest, slip
    with nogil:
        for i in range(out.shape[0]):
            f0 = f0_hz[i]
            if f0 != last_f0:
                w = 2.0 * PI * f0 / rate
                phase = atan2(rounding * sin(w), 1.0 - rounding * cos(w)) / w
                last_f0 = f0
            period = rate / f0
            x = at - period * (1.0 - beta[i])
            k = <long long>floor(x)
            share = x - k
            from_nut = -(to_nut[k & mask] * (1.0 - share) + to_nut[(k + 1) & mask] * share)
            x = period * beta[i] - phase
            x = at - (x if x > 1.0 else 1.0)
            k = <long long>floor(x)
            share = x - k
            arriving = to_bridge[k & mask] * (1.0 - share) + to_bridge[(k + 1) & mask] * share
            smooth = (1.0 - rounding) * arriving + rounding * smooth
            from_bridge = -reflect * damping[i] * smooth
            push = pluck[i]
            if force[i] > 0.0:
                miss = speed[i] - from_nut - from_bridge
                sign = 1.0 if miss >= 0.0 else -1.0
                miss = fabs(miss)
                low = force[i] * dynamic_friction / (2.0 * z)
                fall = force[i] * friction_difference / (2.0 * z)
                v0 = fall_share * fabs(speed[i]) + 1e-4
                b = v0 + low - miss
                rest = b * b - 4.0 * (low - miss + fall) * v0
                slip = 0.5 * (sqrt(rest) - b) if rest >= 0.0 else -1.0
                if miss <= low + fall and (sticking or slip <= 0.0):
                    push += sign * miss
                    sticking = True
                elif slip > 0.0:
                    push += sign * (low + fall * v0 / (v0 + slip))
                    sticking = False
                else:
                    push += sign * (low + fall)
                    sticking = True
            else:
                sticking = False
            to_nut[at & mask] = from_bridge + push
            to_bridge[at & mask] = from_nut + push
            out[i] = arriving
            at += 1
    state[0] = smooth
    state[1] = 1.0 if sticking else 0.0
    state[2] = at


def run_sections(const double[:, ::1] sections, double[::1] wave, double[:, ::1] state):
    """Filter a wave in place by second-order sections, rows (b0, b1, b2, 1, a1, a2), in the
    transposed direct form II; `state`, shape (S, 2), goes on to the next block."""
    cdef Py_ssize_t i, s
    cdef double x, y
    with nogil:
        for i in range(wave.shape[0]):
            x = wave[i]
            for s in range(sections.shape[0]):
                y = sections[s, 0] * x + state[s, 0]
                state[s, 0] = sections[s, 1] * x - sections[s, 4] * y + state[s, 1]
                state[s, 1] = sections[s, 2] * x - sections[s, 5] * y
                x = y
            wave[i] = x
