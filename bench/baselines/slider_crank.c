/* Baseline: free slider-crank in its one minimal coordinate, written by hand, integrated by Dormand-Prince 8(5,3) with dense output.
   Coefficients come in coefficients.h, written by bench/run.ts from core/src/solve/dop853-coefficients.ts. Prints the time of one run in ns. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include "coefficients.h"

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

#define N 2
static double k[16][N];
static void combine(const double *row, double *out) {
  for (int j = 0; j < N; j++) {
    double s = 0;
    for (int i = 0; i < 16; i++) s += row[i] * k[i][j];
    out[j] = s;
  }
}

static double run(double until, double every, double tol, long *steps) {
  double y[N] = {0, 0}, y1[N], st[N], e5[N], e3[N], d[7][N], t = 0, h = 1e-3, sum = 0;
  long next = 1;
  *steps = 0;
  while (t < until) {
    if (h > until - t) h = until - t;
    if (h > until / 100) h = until / 100;
    f(t, y, k[0]);
    for (int i = 1; i < 12; i++) {
      combine(A[i], st);
      for (int j = 0; j < N; j++) st[j] = y[j] + h * st[j];
      f(t + C[i] * h, st, k[i]);
    }
    combine(A[12], y1);
    for (int j = 0; j < N; j++) y1[j] = y[j] + h * y1[j];
    combine(E5, e5);
    combine(E3, e3);
    f(t + h, y1, k[12]);
    double s5 = (e5[0] / tol) * (e5[0] / tol) + (e5[1] / (10 * tol)) * (e5[1] / (10 * tol));
    double s3 = (e3[0] / tol) * (e3[0] / tol) + (e3[1] / (10 * tol)) * (e3[1] / (10 * tol));
    double err = s5 + s3 > 0 ? h * s5 / sqrt((s5 + 0.01 * s3) * 2) : 0;
    if (err <= 1) {
      for (int i = 13; i < 16; i++) {
        combine(A[i], st);
        for (int j = 0; j < N; j++) st[j] = y[j] + h * st[j];
        f(t + C[i] * h, st, k[i]);
      }
      for (int j = 0; j < N; j++) {
        double delta = y1[j] - y[j], s0 = h * k[0][j];
        d[0][j] = delta; d[1][j] = s0 - delta; d[2][j] = 2 * delta - h * k[12][j] - s0;
      }
      for (int m = 0; m < 4; m++) {
        combine(D[m], d[3 + m]);
        for (int j = 0; j < N; j++) d[3 + m][j] *= h;
      }
      for (; next * every <= t + h + 1e-15; next++) {
        double x = (next * every - t) / h, z = 1 - x;
        sum += y[0] + x * (d[0][0] + z * (d[1][0] + x * (d[2][0] + z * (d[3][0] + x * (d[4][0] + z * (d[5][0] + x * d[6][0]))))));
      }
      t += h;
      memcpy(y, y1, sizeof y);
      (*steps)++;
    }
    double fac = 0.9 * pow(err > 1e-10 ? err : 1e-10, -0.125);
    h *= fac > 6 ? 6 : fac < 0.3 ? 0.3 : fac;
  }
  return sum + 0 * y[0];
}

int main(int argc, char **argv) {
  double tol = argc > 1 ? atof(argv[1]) : 1e-7, sum = 0;
  long steps, times = 400;
  for (int i = 0; i < 20; i++) sum += run(2, 1e-3, tol, &steps);
  struct timespec a, b;
  clock_gettime(CLOCK_MONOTONIC, &a);
  for (long i = 0; i < times; i++) sum += run(2, 1e-3, tol, &steps);
  clock_gettime(CLOCK_MONOTONIC, &b);
  printf("%.1f %ld %g\n", ((b.tv_sec - a.tv_sec) * 1e9 + (b.tv_nsec - a.tv_nsec)) / times, steps, sum);
  return 0;
}
