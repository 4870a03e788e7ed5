"""Our table of corrections against pwlf: what each leaves at most, and how long it takes, as ratios of one run.

pwlf finds free breakpoints by global search for least squares, not bound to stations or to a step; its values are
rounded here to the step of the display, since a table must be keyed in. 4 to 8 segments.
"""

import time

import numpy as np
import pwlf

from vernus.core.prove.calibrate.compensation import fit_segments

STEP = 0.001


def stations(count):
    rng = np.random.default_rng(count)
    at = np.linspace(0, 500, count)
    return at, 0.02 * np.sin(at / 70) + 3e-5 * at + rng.normal(0, 0.002, count)


def ours(at, correction, segments):
    table = fit_segments(at, at + correction, segments + 1, step_mm=STEP)
    return table.max_residual_mm, table.rms_residual_mm


def theirs(at, correction, segments):
    fit = pwlf.PiecewiseLinFit(at, correction, seed=1)
    breaks = fit.fit(segments)
    values = np.round(fit.predict(breaks) / STEP) * STEP
    left = correction - np.interp(at, breaks, values)
    return np.abs(left).max(), np.sqrt((left**2).mean())


def timed(solve, *given):
    begun = time.perf_counter()
    found = solve(*given)
    return found, time.perf_counter() - begun


if __name__ == "__main__":
    print("stations segments   largest residual  rms residual  time      (ours / pwlf)")
    for count in (21, 101, 501):
        at, correction = stations(count)
        for segments in range(4, 9):
            (most, rms), mine = timed(ours, at, correction, segments)
            (other, other_rms), other_time = timed(theirs, at, correction, segments)
            ratios = f"{most / other:>16.2f}  {rms / other_rms:>12.2f}  {mine / other_time:>8.3f}"
            print(f"{count:>8} {segments:>8}   {ratios}", flush=True)
