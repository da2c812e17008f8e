"""What somebody at home with a notebook does: windows, efficiencies and a straight line a lane. Usage: curve.py LOG.csv"""

import sys

import numpy as np
import pandas as pd

AREA, DUCT, PROFILE, CP = 2.0, np.pi / 4 * 0.125**2, 0.86, 1006.0
PRESSURE, R = 88_500.0, 287.05

log = pd.read_csv(sys.argv[1])
log["time"] = pd.to_datetime(log["time"])
log = log.set_index("time").resample("10s").mean()
sun, ambient = log["Sun in plane [W/m2]"], log["Outside [degC]"]
steady = (
    (sun > 700)
    & (sun.rolling("15min").max() - sun.rolling("15min").min() < 100)
    & (ambient.rolling("15min").max() - ambient.rolling("15min").min() < 3)
)
for lane in sorted({c[0] for c in log.columns if c.endswith("in (°C)")}):
    inlet, outlet, speed = (log[f"{lane} {n}"] for n in ("in (°C)", "out (°C)", "speed (m/s)"))
    still = inlet.rolling("15min").max() - inlet.rolling("15min").min() < 3
    density = PRESSURE / (R * (outlet + 273.15))
    heat = density * speed * DUCT * PROFILE * CP * (outlet - inlet)
    frame = pd.DataFrame(
        {"eta": heat / (AREA * sun), "x": ((inlet + outlet) / 2 - ambient) / sun}
    )[steady & still]
    windows = frame.resample("10min").mean().dropna()
    slope, level = np.polyfit(windows["x"], windows["eta"], 1)
    print(f"{lane} {level:.4f} {-slope:.3f} {len(windows)}")
