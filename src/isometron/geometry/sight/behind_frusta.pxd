cimport cython
from isometron.geometry.sight.curve cimport Curve

cdef bint _dips(double before, double here, double after) noexcept nogil

@cython.final
cdef class BehindFrusta:
    cdef double[:, ::1] frusta
    cdef double[::1] own_least
    cdef double[:, ::1] box
    cdef Curve curve
    cdef double[:, ::1] local
    cdef double[::1] least
    cdef Py_ssize_t[::1] maybe
    cdef Py_ssize_t maybe_count
    cdef Py_ssize_t latest
    cdef double work
    cdef bint full
    cdef void list_one(self, Py_ssize_t r, bint lenient) noexcept nogil
    cdef void hide_all(self) noexcept nogil
    cdef void _cut_at_roots(self, Py_ssize_t m) noexcept nogil
    cdef void _cut_quadratic(self, double a, double b, double c) noexcept nogil
    cdef (double, double) _swell(self, Py_ssize_t r) noexcept nogil
    cdef void _hide_between(self, Py_ssize_t frustum) noexcept nogil
    cdef void _sample(self) noexcept nogil
    cdef (Py_ssize_t, double) _how_many(self) noexcept nogil
    cdef void _cut_change(self, double low, double high, double length) noexcept nogil
    cdef void _cut_dip(self, double low, double middle, double high, double length) noexcept nogil
    cdef double _best_margin(self, double t) noexcept nogil
    cdef double _best_margin_at(self, double one, double two) noexcept nogil
    cdef double _margin(self, Py_ssize_t m, double one, double two) noexcept nogil
    cdef double _run(self, Py_ssize_t r, double x, double y, double z, double low, double high) noexcept nogil
