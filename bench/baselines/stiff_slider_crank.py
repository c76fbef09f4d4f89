"""Baseline: a slider-crank whose pins are stiff bushings, planar equations written by hand in Python with NumPy, integrated by scipy.integrate.solve_ivp
(Radau). Usage: stiff_slider_crank.py TOLERANCE. Prints ns a run, evaluations, and the angle of the crank at the end."""
import sys, time
import numpy as np
from scipy.integrate import solve_ivp

r, l, g, k, c = 0.05, 0.2, 9.81, 1e8, 2e3
m = np.array([1.2, 0.8, 1.5])
J = np.array([9e-4, 3e-3])
c1, c2 = r / 2, 0.4 * l

# states: x, y and angle of crank and rod (at their centres of mass), x of the slider; then their rates
def at(x, v, s):
    """Place and velocity of a point at s along a bar, and its arm."""
    a = np.array([np.cos(x[2]), np.sin(x[2])]) * s
    return x[:2] + a, v[:2] + v[2] * np.array([-a[1], a[0]]), a

def push(d, dv, w):
    """Force on the second body of a bushing whose first body turns with w: stiffness on d, damping on its rate seen from there."""
    return -k * d - c * (dv - w * np.array([-d[1], d[0]]))

def f(t, y):
    q, v = y[:7], y[7:]
    crank, rod = q[:3], q[3:6]
    vc, vr = v[:3], v[3:6]
    p0, u0, a0 = at(crank, vc, -c1)
    p1, u1, a1 = at(crank, vc, r - c1)
    p2, u2, a2 = at(rod, vr, -c2)
    p3, u3, a3 = at(rod, vr, l - c2)
    F0 = push(p0, u0, 0.0)
    F1 = push(p2 - p1, u2 - u1, vc[2])
    slider, us = np.array([q[6], 0.0]), np.array([v[6], 0.0])
    F2 = push(slider - p3, us - u3, vr[2])
    cross = lambda a, b: a[0] * b[1] - a[1] * b[0]
    # a bushing pushes its first body at the place on the second
    on_crank = F0 - F1
    on_rod = F1 - F2
    t_crank = cross(a0, F0) - cross(p2 - crank[:2], F1)
    t_rod = cross(a2, F1) - cross(slider - rod[:2], F2)
    return np.concatenate([v, on_crank / m[0] + [0, -g], [t_crank / J[0]], on_rod / m[1] + [0, -g], [t_rod / J[1]], [F2[0] / m[2]]])

y0 = np.zeros(14)
y0[0], y0[3], y0[6] = c1, r + c2, r + l
tol = float(sys.argv[1])
t = np.linspace(0, 1, 101)
times = []
for i in range(3):
    a = time.perf_counter()
    sol = solve_ivp(f, (0, 1), y0, method='Radau', rtol=tol, atol=tol, t_eval=t)
    times.append(time.perf_counter() - a)
print(f"{sorted(times)[1] * 1e9:.1f} {sol.nfev} {sol.y[2, -1]:.12g}")
