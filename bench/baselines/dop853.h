/* Dormand-Prince 8(5,3) with dense output for N states and a derivative f, of which state OUT is recorded. Sizes and f come before this is included;
   coefficients come in coefficients.h, written by bench/run.ts from core/src/solve/dop853-coefficients.ts. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include "coefficients.h"

static double k[16][N];
static void combine(const double *row, double *out) {
  for (int j = 0; j < N; j++) {
    double s = 0;
    for (int i = 0; i < 16; i++) s += row[i] * k[i][j];
    out[j] = s;
  }
}

/* Sum of the recorded values; the last state is left in y. */
static double run(double *y, double until, double every, double tol, long *steps) {
  double y1[N], st[N], e5[N], e3[N], d[7][N], t = 0, h = 1e-3, sum = 0;
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
    double s5 = 0, s3 = 0;
    for (int j = 0; j < N; j++) {
      double w = 1 / (tol * scale(j));
      s5 += e5[j] * w * e5[j] * w;
      s3 += e3[j] * w * e3[j] * w;
    }
    double err = s5 + s3 > 0 ? h * s5 / sqrt((s5 + 0.01 * s3) * N) : 0;
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
        for (int j = 0; j < RECORDED; j++)
          sum += y[j] + x * (d[0][j] + z * (d[1][j] + x * (d[2][j] + z * (d[3][j] + x * (d[4][j] + z * (d[5][j] + x * d[6][j]))))));
      }
      t += h;
      memcpy(y, y1, sizeof y1);
      (*steps)++;
    }
    double fac = 0.9 * pow(err > 1e-10 ? err : 1e-10, -0.125);
    h *= fac > 6 ? 6 : fac < 0.3 ? 0.3 : fac;
  }
  return sum;
}

/* Prints the time of one run in ns, its steps, and what is said of its last state. */
static int measured(const double *start, double until, double tol, long times, double (*said)(const double *)) {
  double y[N], sum = 0;
  long steps;
  struct timespec a, b;
  for (long i = -times / 20; i < times; i++) {
    if (i == 0) clock_gettime(CLOCK_MONOTONIC, &a);
    memcpy(y, start, sizeof y);
    sum += run(y, until, 1e-3, tol, &steps);
  }
  clock_gettime(CLOCK_MONOTONIC, &b);
  printf("%.1f %ld %.12g %g\n", ((b.tv_sec - a.tv_sec) * 1e9 + (b.tv_nsec - a.tv_nsec)) / times, steps, said(y), sum);
  return 0;
}
