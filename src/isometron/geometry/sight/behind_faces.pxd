cimport cython
from isometron.geometry.sight.curve cimport Curve

@cython.final
cdef class BehindFaces:
    cdef double[:, ::1] frames
    cdef double[:, ::1] eyes
    cdef double[::1] near
    cdef double[:, ::1] sides
    cdef double[:, ::1] bows
    cdef Py_ssize_t[::1] first
    cdef double[:, ::1] boxes
    cdef Curve curve
    cdef double met_one
    cdef double met_two
    cdef double[::1] local
    cdef double[::1] wave
    cdef double[::1] crossed
    cdef double[::1] crossed_too
    cdef double _part(self, Py_ssize_t f, Py_ssize_t k, Py_ssize_t i) noexcept nogil
    cdef void line_behind(self, Py_ssize_t f) noexcept nogil
    cdef (Py_ssize_t, bint, bint) _cross(self, Py_ssize_t f, double u, double v, double du, double dv, double touch, bint up, double[::1] found) noexcept nogil
    cdef Py_ssize_t _met(self, Py_ssize_t i, double u, double v, double du, double dv, bint odd) noexcept nogil
    cdef void _hide_run(self, double low, double high, double wa, double wb, double t0, double t1, bint left, bint right) noexcept nogil
    cdef bint _turned(self, Py_ssize_t f) noexcept nogil
    cdef void ring_behind(self, Py_ssize_t f) noexcept nogil
    cdef void _cut_side(self, Py_ssize_t f, Py_ssize_t i) noexcept nogil
    cdef void _cut_bow(self, Py_ssize_t f, Py_ssize_t i) noexcept nogil
    cdef double _over(self, double angle) noexcept nogil
    cdef void _root(self, double low, double high, double one, double two) noexcept nogil
    cdef void _dip(self, double low, double high) noexcept nogil
    cdef bint _over_chord(self, Py_ssize_t i, double u, double v) noexcept nogil
    cdef void _cut_roots(self, double a, double b, double c, Py_ssize_t f, Py_ssize_t side) noexcept nogil
    cdef bint _holds(self, Py_ssize_t f, double u, double v) noexcept nogil
