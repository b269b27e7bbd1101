cimport cython
from isometron.geometry.sight.behind_bodies cimport BehindBodies
from isometron.geometry.sight.behind_faces cimport BehindFaces
from isometron.geometry.sight.behind_frusta cimport BehindFrusta
from isometron.geometry.sight.curve cimport Curve
from isometron.geometry.sight.hider_grid cimport HiderGrid

@cython.final
cdef class Sight:
    cdef Py_ssize_t[::1] owner
    cdef unsigned char[::1] others
    cdef Py_ssize_t[::1] own
    cdef unsigned char[::1] asked
    cdef Py_ssize_t[::1] stamp
    cdef HiderGrid grid
    cdef Curve curve
    cdef BehindBodies bodies
    cdef BehindFrusta frusta
    cdef BehindFaces faces
    cdef Py_ssize_t[::1] own_faces
    cdef Py_ssize_t[::1] spun
    cdef Py_ssize_t[::1] out_row
    cdef double[::1] out_low
    cdef double[::1] out_high
    cdef Py_ssize_t total
    cdef void _write(self) noexcept nogil
    cdef void _meet(self, Py_ssize_t owner, bint is_mark, Py_ssize_t lenient) noexcept nogil
    cdef void _ask(self, Py_ssize_t h, Py_ssize_t owner, bint is_mark, Py_ssize_t lenient) noexcept nogil
