/* Baseline: free slider-crank in its one minimal coordinate, written by hand. */
#include <math.h>

#define N 2
#define RECORDED 1
static double scale(int j) { return j == 0 ? 1 : 10; }
static const double r = 0.05, l = 0.2, m1 = 1.2, m2 = 0.8, m3 = 1.5, J2 = 3e-3, g = 9.81;

static void f(double t, const double *y, double *dy) {
  (void)t;
  const double J1 = 9e-4 + m1 * (r / 2) * (r / 2), c2 = 0.4 * l;
  const double q = y[0], w = y[1], s = sin(q), c = cos(q), sb = -r * s / l, cb = sqrt(1 - sb * sb);
  const double b1 = -r * c / (l * cb), b2 = (r * s + l * sb * b1 * b1) / (l * cb);
  const double x1 = -r * s - l * sb * b1, x2 = -r * c - l * cb * b1 * b1 - l * sb * b2;
  const double ux = -r * s - c2 * sb * b1, ux2 = -r * c - c2 * (cb * b1 * b1 + sb * b2);
  const double uy = r * c + c2 * cb * b1, uy2 = -r * s + c2 * (-sb * b1 * b1 + cb * b2);
  const double M = J1 + m3 * x1 * x1 + m2 * (ux * ux + uy * uy) + J2 * b1 * b1;
  const double K = m3 * x1 * x2 + m2 * (ux * ux2 + uy * uy2) + J2 * b1 * b2;
  dy[0] = w;
  dy[1] = (-K * w * w - g * (m1 * r * c / 2 + m2 * uy)) / M;
}

#include "dop853.h"

static double angle(const double *y) { return y[0]; }

int main(int argc, char **argv) {
  const double start[N] = {0, 0};
  return measured(start, 2, argc > 1 ? atof(argv[1]) : 1e-7, 400, angle);
}
