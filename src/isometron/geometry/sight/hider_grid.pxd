cimport cython

@cython.final
cdef class HiderGrid:
    cdef double[:, ::1] box
    cdef double[::1] near
    cdef Py_ssize_t cells
    cdef double left
    cdef double lower
    cdef double columns
    cdef double rows
    cdef Py_ssize_t[::1] first
    cdef Py_ssize_t[::1] listed
    cdef void _lay(self, double limit, Py_ssize_t[::1] order)
    cdef Py_ssize_t _places(self, Py_ssize_t[::1] order) noexcept
    cdef void _fill(self, Py_ssize_t[::1] order)
    cdef Py_ssize_t column(self, double u) noexcept nogil
    cdef Py_ssize_t row(self, double v) noexcept nogil
    cdef Py_ssize_t _cell(self, double x) noexcept nogil
