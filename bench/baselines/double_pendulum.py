"""Baseline: the same two bars on ball joints, equations written by hand in Python with NumPy, integrated by scipy.integrate.solve_ivp (DOP853).
Usage: double_pendulum.py TOLERANCE BARS.json. Prints ns a run, evaluations, and x of the centre of the second bar at the end."""
import json, sys, time
import numpy as np
from scipy.integrate import solve_ivp

bars = json.load(open(sys.argv[2]))
m1, m2 = bars['m1'], bars['m2']
J1, J2 = np.reshape(bars['J1'], (3, 3)), np.reshape(bars['J2'], (3, 3))
c1, k1, c2 = (np.array(bars[x]) for x in ('c1', 'k1', 'c2'))
g = np.array([0, 0, -9.80665])

def turn(q):
    a, b, c, d = q / np.sqrt(q @ q)
    return np.array([[1 - 2 * (c * c + d * d), 2 * (b * c - a * d), 2 * (b * d + a * c)],
                     [2 * (b * c + a * d), 1 - 2 * (b * b + d * d), 2 * (c * d - a * b)],
                     [2 * (b * d - a * c), 2 * (c * d + a * b), 1 - 2 * (b * b + c * c)]])

def cross(x, y):
    return np.array([x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]])

def tilde(s):
    return np.array([[0, -s[2], s[1]], [s[2], 0, -s[0]], [-s[1], s[0], 0]])

C1, K1, C2 = tilde(c1), tilde(k1), tilde(c2)
M11, M22 = J1 - m1 * C1 @ C1 - m2 * K1 @ K1, J2 - m2 * C2 @ C2
M, b = np.zeros((6, 6)), np.zeros(6)
M[:3, :3], M[3:, 3:] = M11, M22

def f(t, y):
    A1, A2, w1, w2 = turn(y[:4]), turn(y[4:8]), y[8:11], y[11:]
    R = A1.T @ A2
    M[:3, 3:] = -m2 * K1 @ R @ C2
    M[3:, :3] = M[:3, 3:].T
    inward = lambda w, s: cross(w, cross(w, s))
    a1, ak, a2 = inward(w1, c1), inward(w1, k1), inward(w2, c2)
    g1, g2 = A1.T @ g, A2.T @ g
    b[:3] = -cross(w1, J1 @ w1) - m1 * C1 @ (a1 - g1) - m2 * K1 @ (ak + R @ a2 - g1)
    b[3:] = -cross(w2, J2 @ w2) - m2 * C2 @ (a2 + R.T @ ak - g2)
    rate = lambda q, w: 0.5 * np.array([-q[1:] @ w, *(q[0] * w + cross(q[1:], w))])
    return np.concatenate([rate(y[:4], w1), rate(y[4:8], w2), np.linalg.solve(M, b)])

tol = float(sys.argv[1])
t = np.arange(5001) * 1e-3
times = []
for i in range(3):
    a = time.perf_counter()
    sol = solve_ivp(f, (0, 5), bars['start'], method='DOP853', rtol=tol, atol=tol, t_eval=t)
    times.append(time.perf_counter() - a)
y = sol.y[:, -1]
print(f"{sorted(times)[1] * 1e9:.1f} {sol.nfev} {(turn(y[:4]) @ k1 + turn(y[4:8]) @ c2)[0]:.12g}")
