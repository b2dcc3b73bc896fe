"""The figures that Ilvek takes from the shipped recordings beside those that numpy takes from the same samples.

Usage: numpy_oracle.py ILVEK_CLI FOLDER. Each comparison is by a method of its own: Fourier transforms of the whole,
polynomials by least squares, percentiles, thresholds."""
import json
import subprocess
import sys

import numpy as np

CLI, FOLDER = sys.argv[1], sys.argv[2]
failures = []


def samples(name):
    with open(f"{FOLDER}/{name}.csv") as f:
        columns = f.readline().strip().split(",")
    table = np.loadtxt(f"{FOLDER}/{name}.csv", delimiter=",", skiprows=2)
    return {c: table[:, i] for i, c in enumerate(columns)}


def told(name, *options):
    out = subprocess.run([CLI, "trace", "measure", "--json", *options, f"{FOLDER}/{name}.csv"], capture_output=True, text=True)
    assert out.returncode == 0, out.stderr
    return json.loads(out.stdout)


def measure(document, identity):
    return next(m["value"] for m in document["measures"] if m["id"] == identity)


def agree(what, ours, theirs, share=0.0, absolute=0.0):
    if not abs(ours - theirs) <= max(share * abs(theirs), absolute):
        failures.append(f"{what}: {ours} here, {theirs} by numpy")


def line_of(x, dt, low_Hz):
    """Frequency of the strongest line above low_Hz, between bins by a parabola through the logarithms."""
    power = np.abs(np.fft.rfft((x - np.polyval(np.polyfit(np.arange(x.size), x, 1), np.arange(x.size))) * np.hanning(x.size))) ** 2
    f = np.fft.rfftfreq(x.size, dt)
    k = np.argmax(np.where(f > low_Hz, power, 0))
    a, b, c = np.log(power[k - 1 : k + 2])
    return (k + 0.5 * (a - c) / (a - 2 * b + c)) * f[1]


def pulse_width():
    for name in ("metering-valve", "fan-clutch"):
        s, d = samples(name), told(name)
        dt = s["time"][1]
        agree(name + " frequency", measure(d, "frequency"), line_of(s["current"], dt, 40), 2e-3)
        agree(name + " average", measure(d, "average"), s["current"].mean(), 1e-3)
        low = s["control"] < 0.5 * np.percentile(s["control"], 95)
        agree(name + " duty", measure(d, "duty"), 100 * low.mean(), absolute=1.5)
        agree(name + " duty at the drive", measure(d, "duty at drive"), 100 * low.mean(), absolute=0.5)
        # R = (D (U + U_d) - U_d) / I, the supply a diode below what the drive stands at while it freewheels.
        supply = np.median(s["control"][~low]) - 0.8
        agree(name + " resistance", measure(d, "resistance"), (low.mean() * (supply + 0.8) - 0.8) / s["current"].mean(), 0.03)


def motor():
    s, d = samples("lift-pump"), told("lift-pump", "--bars", "8")
    late = s["current"][s["current"].size // 2 :]
    rate = line_of(late, s["time"][1], 100)
    agree("bar rate", measure(d, "bar rate"), rate, 2e-3)
    agree("speed", measure(d, "speed"), 60 * rate / 8, 2e-3)
    agree("running current", measure(d, "running"), np.median(late), 5e-3)
    agree("starting current", measure(d, "starting"), s["current"].max(), 0.03)


def winding():
    s, d = samples("tiller-down"), told("tiller-down")
    p = {m["id"]: m.get("value") for m in d["pulses"][0]["measures"]}
    t, i, u = s["time"], s["current"], s["control"]
    on = t[np.argmax(u < 0.5 * u[:500].mean())]
    off = t[np.argmax(u > 1.5 * u[:500].mean())]
    agree("switched on", d["pulses"][0]["on_s"], on, absolute=4e-4)
    agree("switched off", d["pulses"][0]["off_s"], off, absolute=1e-4)
    end = i[(t > on + 0.85 * (off - on)) & (t < off - 2e-4)].mean() - np.median(i[t < on])
    agree("end current", p["end current"], end, 5e-3)
    supply = u[t < on - 1e-4].mean()
    agree("resistance", p["resistance"], supply / end, 0.01)
    # The rise before the armature moves: i = I (1 - e^(-t/T)), its slope at the beginning by a cubic.
    early = (t > on + 1e-4) & (t < on + 3e-3)
    slope = np.polyval(np.polyder(np.polyfit(t[early] - on, i[early], 3)), 0)
    agree("slope", p["slope"], slope, 0.2)
    agree("spike", p["spike"], u.max(), 0.02)


def injectors():
    s, d = samples("injectors-3-weak"), told("injectors-3-weak")
    above = s["current"] > 0.3
    starts = np.flatnonzero(above[1:] & ~above[:-1])
    starts = starts[np.insert(np.diff(starts) > 200, 0, True)]
    if len(starts) != len(d["pulses"]):
        failures.append(f"pulses: {len(d['pulses'])} here, {len(starts)} by numpy")
    peaks = np.array([np.sort(s["current"][a : a + 300])[-12:].mean() for a in starts])
    ours = np.array([next(m["value"] for m in p["measures"] if m["id"] == "peak") for p in d["pulses"]])
    for k, (a, b) in enumerate(zip(ours, peaks)):
        agree(f"peak of pulse {k + 1}", a, b, 0.03)
    # Fired 1-3-4-2: the second of each four is the weak one.
    if set(np.argsort(ours.reshape(-1, 4), axis=1)[:, 0]) != {1}:
        failures.append("the weak cylinder is another one")


def wheel():
    s, d = samples("crank-speed"), told("crank-speed")
    x, dt = s["signal"], s["time"][1]
    falls = [k for k in range(3, x.size - 3) if x[k - 1] > 0 >= x[k] and x[k - 4 : k].max() > 0.4 and x[k : k + 4].min() < -0.4]
    periods = np.diff(falls) * dt
    gaps = np.flatnonzero(periods > 1.5 * np.median(periods))
    agree("teeth", measure(d, "teeth"), np.median(np.diff(gaps)))
    turn = np.median(np.diff(np.array(falls)[gaps])) * dt
    agree("speed", measure(d, "speed"), 60 / turn, 5e-3)


def bus():
    s, d = samples("bus"), told("bus")
    difference = s["bus high"] - s["bus low"]
    dominant = difference > 1
    settled = np.convolve(dominant, np.ones(5), "same")
    for line in ("high", "low"):
        x = s["bus " + line]
        agree(line + " dominant", measure(d, line + " dominant"), x[settled == 5].mean(), absolute=0.03)
        agree(line + " recessive", measure(d, line + " recessive"), x[settled == 0].mean(), absolute=0.03)
    changes = np.flatnonzero(np.diff(dominant.astype(int)))
    runs = np.diff(changes) * s["time"][1]
    # The time whose multiples all short runs are: least mean distance from whole numbers.
    tried = np.linspace(2e-6, 8e-6, 1201)
    short = runs[runs < 4e-5]
    distance = [np.mean(np.abs(short / b - np.round(short / b)) + 0.02 * (b < 3e-6)) for b in tried]
    agree("bit time", measure(d, "bit time"), tried[np.argmin(distance)], 0.01)


def field():
    s, d = samples("alternator-field"), told("alternator-field")
    x, load, dt = s["field"], s["load current"], s["time"][1]
    per = int(round(10 / 125 / dt))
    n = x.size // per
    duty = 100 * (x[: n * per].reshape(n, per) > 7).mean(axis=1)
    steady = load[: n * per].reshape(n, per).std(axis=1) < 2
    slope = np.polyfit(load[: n * per].reshape(n, per).mean(axis=1)[steady], duty[steady], 1)[0]
    agree("points for each ampere", measure(d, "answer"), slope, 0.06)
    agree("least duty", measure(d, "duty least"), duty.min(), absolute=2)
    agree("most duty", measure(d, "duty most"), duty.max(), absolute=2)


for check in (pulse_width, motor, winding, injectors, wheel, bus, field):
    check()
for failure in failures:
    print(failure)
sys.exit(1 if failures else 0)
