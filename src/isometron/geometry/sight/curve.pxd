cimport cython

@cython.final
cdef class Curve:
    cdef double[::1] here
    cdef double[:, ::1] places
    cdef Py_ssize_t row
    cdef double left
    cdef double lower
    cdef double right
    cdef double upper
    cdef double far
    cdef bint ring
    cdef double begin
    cdef double sweep
    cdef double[::1] low
    cdef double[::1] high
    cdef Py_ssize_t count
    cdef double[:, ::1] beside_low
    cdef double[:, ::1] beside_high
    cdef Py_ssize_t[::1] beside_count
    cdef double[::1] cuts
    cdef Py_ssize_t cut_count
    cdef bint whole(self) noexcept nogil
    cdef void hide(self, double low, double high) noexcept nogil
    cdef void begin_anew(self) noexcept nogil
    cdef void beside(self, bint right, double low, double high) noexcept nogil
    cdef void close_joints(self) noexcept nogil
    cdef void cut(self, double t) noexcept nogil
    cdef void cut_angle(self, double angle) noexcept nogil
