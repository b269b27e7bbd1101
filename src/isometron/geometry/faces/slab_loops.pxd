cimport cython

@cython.final
cdef class Slabs:
    cdef double[:, ::1] points
    cdef Py_ssize_t[::1] first
    cdef Py_ssize_t[::1] after
    cdef Py_ssize_t[::1] plane
    cdef unsigned char[::1] bent
    cdef double[:, ::1] frames
    cdef double[:, ::1] rows
    cdef Py_ssize_t total
    cdef double[:, ::1] sheets
    cdef Py_ssize_t sheet_total
    cdef Py_ssize_t own
    cdef Py_ssize_t side
    cdef double work
    cdef double[::1] cuts
    cdef Py_ssize_t[:, ::1] cut_plane
    cdef Py_ssize_t cut_count
    cdef double[::1] low
    cdef double[::1] high
    cdef Py_ssize_t[::1] line
    cdef Py_ssize_t count
    cdef Py_ssize_t first_set
    cdef double[::1] between
    cdef Py_ssize_t between_count
    cdef Py_ssize_t[::1] order
    cdef Py_ssize_t[::1] latest
    cdef double[::1] before
    cdef Py_ssize_t before_count
    cdef double[::1] here
    cdef double[::1] there
    cdef Py_ssize_t here_count
    cdef double[::1] across
    cdef Py_ssize_t[::1] across_line
    cdef unsigned char[::1] across_beyond
    cdef Py_ssize_t across_count
    cdef void _begin(self, Py_ssize_t own, Py_ssize_t side) noexcept nogil
    cdef void _cut(self, double s, Py_ssize_t up, Py_ssize_t down) noexcept nogil
    cdef void _cut_at_points(self, Py_ssize_t outline, int column, double start, double way, double stop) noexcept nogil
    cdef void _load(self, Py_ssize_t outline, int column, double mid, double start, double end) noexcept nogil
    cdef int _slab(self, double start, double end, Py_ssize_t up, Py_ssize_t down) except -1
    cdef void _cross_lines(self)
    cdef void _sort_lines(self, double u, double v) noexcept nogil
    cdef void _part(self, double start, double end, double u, double v)
    cdef Py_ssize_t _label(self, Py_ssize_t place, double run, double rise, double side, double u, double v) noexcept nogil
    cdef Py_ssize_t _nearer(self, Py_ssize_t one, Py_ssize_t two, double along, double across) noexcept nogil
    cdef double _fold(self, Py_ssize_t plane, double along, double across) noexcept nogil
    cdef double _gap(self, Py_ssize_t k, Py_ssize_t m, double u) noexcept nogil
    cdef void _lay(self, Py_ssize_t k, int side, double s0, double c0, double s1, double c1, Py_ssize_t other)
    cdef void _lay_sheet(self, double s0, double low0, double high0, double s1, double low1, double high1)
    cdef void _write(self, double s0, double c0, double s1, double c1, Py_ssize_t other)
    cdef void _upright(self, double s, Py_ssize_t up, Py_ssize_t down)
    cdef void _keep(self) noexcept nogil
    cdef void _read_across(self, Py_ssize_t outline, int column, double at, double beyond, bint is_beyond) noexcept nogil
    cdef bint _within(self, Py_ssize_t start, Py_ssize_t stop, bint beyond, double at) noexcept nogil
    cdef void _load_level(self, Py_ssize_t start, Py_ssize_t stop, bint beyond) noexcept nogil
