"""A small MATLAB level 5 file as a seed: two vectors of the same length and a sample interval."""
import struct
import sys


def element(kind, data):
    return struct.pack("<II", kind, len(data)) + data + b"\0" * (-len(data) % 8)


def vector(name, values):
    flags = element(6, struct.pack("<II", 6, 0))  # class double
    size = element(5, struct.pack("<ii", len(values), 1))
    return element(14, flags + size + element(1, name) + element(9, struct.pack(f"<{len(values)}d", *values)))


with open(sys.argv[1], "wb") as out:
    out.write(b"MATLAB 5.0 MAT-file".ljust(124) + struct.pack("<HH", 0x0100, 0x4D49))
    out.write(vector(b"current", [0.01 * (k % 50) for k in range(300)]))
    out.write(vector(b"voltage", [12.0 + 0.1 * (k % 7) for k in range(300)]))
    out.write(vector(b"dt", [1e-5]))
