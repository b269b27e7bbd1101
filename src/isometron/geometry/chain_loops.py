# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Short lines that run on from one another, put in the order in which a pencil draws them. Compiled, see `sight`."""

import cython
import numpy as np

__all__ = ["chain_order"]


def chain_order(node: cython.Py_ssize_t[:, ::1], kind: cython.Py_ssize_t[::1]) -> tuple:
    """Return an order (N,) of lines in which those that run on follow each other, and which are turned round (N,).

    node : (N, 2) numbers of the places where each line starts and ends, the same for the same place; kind : (N,) only
    lines of one kind run on. Where three lines or more meet none runs on.
    """
    k: cython.Py_ssize_t
    n: cython.Py_ssize_t
    end: cython.Py_ssize_t
    other: cython.Py_ssize_t
    first: cython.Py_ssize_t
    count: cython.Py_ssize_t = node.shape[0]
    made: cython.Py_ssize_t = 0
    turn: cython.int
    ends = np.argsort(np.asarray(node).reshape(-1), kind="stable")
    order: cython.Py_ssize_t[::1] = ends
    flat: cython.Py_ssize_t[::1] = np.ascontiguousarray(node).reshape(-1)
    mates = np.full(2 * count, -1, dtype=np.intp)
    mate: cython.Py_ssize_t[::1] = mates
    k = 0
    while k < 2 * count:
        n = k + 1
        while n < 2 * count and flat[order[n]] == flat[order[k]]:
            n += 1
        if n - k == 2 and order[k] // 2 != order[k + 1] // 2 and kind[order[k] // 2] == kind[order[k + 1] // 2]:
            mate[order[k]], mate[order[k + 1]] = order[k + 1], order[k]
        k = n
    found, turned = np.empty(count, dtype=np.intp), np.zeros(count, dtype=bool)
    line: cython.Py_ssize_t[::1] = found
    back: cython.uchar[::1] = turned.view(np.uint8)
    done: cython.uchar[::1] = np.zeros(count, dtype=np.uint8)
    # Chains with two loose ends first, then those that close.
    for turn in range(2):
        for first in range(count):
            if done[first]:
                continue
            if turn == 0:
                if mate[2 * first] < 0:
                    end = 2 * first
                elif mate[2 * first + 1] < 0:
                    end = 2 * first + 1
                else:
                    continue
            else:
                end = 2 * first
            while True:
                k = end // 2
                line[made], back[made], done[k] = k, end % 2 == 1, True
                made += 1
                other = mate[end ^ 1]
                if other < 0 or done[other // 2]:
                    break
                end = other
    return found, turned
