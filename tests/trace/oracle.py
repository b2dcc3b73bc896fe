"""Signals worked out by numpy alone: oracle.py TASK RECORDING.npy [figures ...] prints figures, one a line.

The recording has the time in its first column.
"""

import sys

import numpy as np


def spectrum(x, dt):
    """|X|^2 of the samples less their line, through a Hann window, of a power of two of them in the middle."""
    n = 1 << (len(x).bit_length() - 1)
    first = (len(x) - n) // 2
    x = x[first:first + n]
    k = np.arange(n)
    x = x - np.polyval(np.polyfit(k, x, 1), k)
    window = 0.5 - 0.5 * np.cos(2 * np.pi * k / n)
    power = np.abs(np.fft.rfft(x * window)) ** 2
    return [int(np.argmax(power)), power.max() / power.sum(), 1 / (n * dt)]


def period(x, low, high):
    """The period within bounds whose folded mean leaves least, by trying them all."""
    index = np.arange(len(x))
    best = (np.inf, 0)
    for p in np.linspace(low, high, 401):
        bins = np.minimum((index % p) / p * 40, 39).astype(int)
        count = np.bincount(bins, minlength=40)
        mean = np.bincount(bins, x, minlength=40) / np.maximum(count, 1)
        best = min(best, (np.sum((x - mean[bins]) ** 2), p))
    return [best[1]]


def pulse(x, dt, on, off):
    """End current as the mean of the last sixth; the first tenth's slope by a straight line."""
    a, b = int(round(on / dt)), int(round(off / dt))
    tail = x[b - (b - a) // 6:b].mean()
    top = x[a:b].max()
    stop = a + np.argmax(x[a:b] > 0.2 * top)
    k = np.arange(a + 1, stop)
    return [tail, np.polyfit(k * dt, x[a + 1:stop], 1)[0]]


def noise(x):
    """From the spread about a running parabola, in steps of nine samples."""
    left = []
    for first in range(0, len(x) - 9, 9):
        k = np.arange(9)
        part = x[first:first + 9]
        left.append(np.sum((part - np.polyval(np.polyfit(k, part, 2), k)) ** 2) / 6)
    return [np.sqrt(np.median(left) / 0.891)]


def duty(x, level, per):
    """Share of whole periods above a level, edges between samples along straight lines."""
    above = x > level
    rises = np.flatnonzero(~above[:-1] & above[1:])
    falls = np.flatnonzero(above[:-1] & ~above[1:])
    at = lambda i: i + (level - x[i]) / (x[i + 1] - x[i])
    rises, falls = at(rises), at(falls)
    falls = falls[falls > rises[0]][:len(rises) - 1]
    return [100 * np.mean((falls - rises[:len(falls)]) / np.diff(rises)[:len(falls)]), np.mean(np.diff(rises)) / per]


def main():
    task, table = sys.argv[1], np.load(sys.argv[2])
    x, dt = table[:, 1].astype(float), table[1, 0] - table[0, 0]
    figures = [float(a) for a in sys.argv[3:]]
    told = {
        "spectrum": lambda: spectrum(x, dt),
        "period": lambda: period(x, *figures),
        "pulse": lambda: pulse(x, dt, *figures),
        "noise": lambda: noise(x),
        "duty": lambda: duty(x, *figures),
    }[task]()
    print("\n".join(repr(float(v)) for v in told))


main()
