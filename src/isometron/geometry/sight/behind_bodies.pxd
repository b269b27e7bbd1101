cimport cython
from isometron.geometry.sight.curve cimport Curve

@cython.final
cdef class BehindBodies:
    cdef double[:, ::1] planes
    cdef Py_ssize_t[::1] begins
    cdef double[::1] touch
    cdef Curve curve
    cdef Py_ssize_t[::1] crossed
    cdef Py_ssize_t crossed_count
    cdef double[::1] under_low
    cdef double[::1] under_high
    cdef Py_ssize_t under_count
    cdef void line_behind(self, Py_ssize_t h) noexcept nogil
    cdef void ring_behind(self, Py_ssize_t h) noexcept nogil
    cdef void _arc_behind(self, double touch) noexcept nogil
    cdef void _leave_out(self, double low, double high) noexcept nogil
    cdef (double, double) _reach_over(self, Py_ssize_t i) noexcept nogil
    cdef (double, double) _over(self, Py_ssize_t i) noexcept nogil
    cdef void _cut_plane(self, Py_ssize_t i) noexcept nogil
    cdef (double, double, double) _passing(self, Py_ssize_t i) noexcept nogil
    cdef void _hide_between(self, Py_ssize_t body) noexcept nogil
    cdef bint _holds(self, Py_ssize_t h, double t) noexcept nogil
    cdef double _along(self, Py_ssize_t i, double x, double y, double z) noexcept nogil
