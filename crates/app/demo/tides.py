#!/usr/bin/env python3
"""Tide tables for Skerry Sound.

Adds up the constituents of the harbour's tide and prints the times of high and
low water. Levels are millimetres above chart datum, times are minutes.
"""

import math

# Name, speed in degrees an hour, amplitude in mm, phase in degrees.
CONSTITUENTS = [
    ("M2", 28.984, 412, 108.0),
    ("S2", 30.000, 138, 142.5),
    ("N2", 28.440, 84, 83.0),
    ("K1", 15.041, 61, 201.0),
    ("O1", 13.943, 47, 188.5),
]

MEAN_LEVEL = 520
STEP = 10


def level(minute):
    """The level at a minute of the day."""
    hours = minute / 60
    total = MEAN_LEVEL
    for name, speed, amplitude, phase in CONSTITUENTS:
        angle = math.radians(speed * hours - phase)
        total += amplitude * math.cos(angle)
    return round(total)


def turning_points(day_minutes=1440):
    """High and low waters of a day: (minute, level, "high" or "low")."""
    points = []
    before = level(0)
    here = level(STEP)
    for minute in range(2 * STEP, day_minutes + STEP, STEP):
        after = level(minute)
        if before < here >= after:
            points.append((minute - STEP, here, "high"))
        elif before > here <= after:
            points.append((minute - STEP, here, "low"))
        before, here = here, after
    return points


def clock(minute):
    return f"{minute // 60:02}:{minute % 60:02}"


def warning(height, limit):
    # if height > limit + 200:
    #     # The duty pilot closes the inner gate.
    #     return "gate"
    if height > limit:
        return "high water over the quay"
    return (
        "no warning: the level stays "
        "below the quay by "
        f"{limit - height} mm"
    )


def table():
    rows = ["time   level  water"]
    for minute, height, kind in turning_points():
        rows.append(f"{clock(minute)}  {height:>5}  {kind}")
    return "\n".join(rows)


def main():
    print(table())
    highest = max(height for _, height, _ in turning_points())
    print(warning(highest, limit=1150))
    # print(warning(highest, limit=900))


if __name__ == "__main__":
    main()
