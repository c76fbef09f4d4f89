"""Baseline: the same free slider-crank, hand-written equations in Python with NumPy, integrated by scipy.integrate.solve_ivp (DOP853).
Prints ns a run, evaluations, and the angle of the crank at the end."""
import sys, time
import numpy as np
from scipy.integrate import solve_ivp

r, l, m1, m2, m3, J2, g = 0.05, 0.2, 1.2, 0.8, 1.5, 3e-3, 9.81
J1, c2 = 9e-4 + m1 * (r / 2) ** 2, 0.4 * l

def f(t, y):
    q, w = y
    s, c = np.sin(q), np.cos(q)
    sb = -r * s / l
    cb = np.sqrt(1 - sb * sb)
    b1 = -r * c / (l * cb)
    b2 = (r * s + l * sb * b1 * b1) / (l * cb)
    x1 = -r * s - l * sb * b1
    x2 = -r * c - l * cb * b1 * b1 - l * sb * b2
    ux = -r * s - c2 * sb * b1
    ux2 = -r * c - c2 * (cb * b1 * b1 + sb * b2)
    uy = r * c + c2 * cb * b1
    uy2 = -r * s + c2 * (-sb * b1 * b1 + cb * b2)
    M = J1 + m3 * x1 * x1 + m2 * (ux * ux + uy * uy) + J2 * b1 * b1
    K = m3 * x1 * x2 + m2 * (ux * ux2 + uy * uy2) + J2 * b1 * b2
    return np.array([w, (-K * w * w - g * (m1 * r * c / 2 + m2 * uy)) / M])

tol = float(sys.argv[1]) if len(sys.argv) > 1 else 1e-7
t = np.arange(2001) * 1e-3
times = []
for i in range(5):
    a = time.perf_counter()
    sol = solve_ivp(f, (0, 2), [0, 0], method='DOP853', rtol=tol, atol=tol, t_eval=t)
    times.append(time.perf_counter() - a)
print(f"{sorted(times)[2] * 1e9:.1f} {sol.nfev} {sol.y[0, -1]:.12g}")
