/* Baseline: two bars on ball joints in space, in the least number of velocities (two angular velocities, body axes; quaternions tell the turns), written
   by hand from the principle of virtual power. Masses, inertias, places and start come in bars.h, written by bench/run.ts from the model. */
#include <math.h>
#include "bars.h"

/* q1, q2, w1, w2 */
#define N 14
#define RECORDED 14
static double scale(int j) { return j < 8 ? 1 : 10; }

static void turn(const double *q, double A[3][3]) {
  double n = 1 / (q[0] * q[0] + q[1] * q[1] + q[2] * q[2] + q[3] * q[3]), a = q[0], b = q[1], c = q[2], d = q[3];
  A[0][0] = 1 - 2 * n * (c * c + d * d); A[0][1] = 2 * n * (b * c - a * d); A[0][2] = 2 * n * (b * d + a * c);
  A[1][0] = 2 * n * (b * c + a * d); A[1][1] = 1 - 2 * n * (b * b + d * d); A[1][2] = 2 * n * (c * d - a * b);
  A[2][0] = 2 * n * (b * d - a * c); A[2][1] = 2 * n * (c * d + a * b); A[2][2] = 1 - 2 * n * (b * b + c * c);
}
static void cross(const double *x, const double *y, double *z) {
  z[0] = x[1] * y[2] - x[2] * y[1]; z[1] = x[2] * y[0] - x[0] * y[2]; z[2] = x[0] * y[1] - x[1] * y[0];
}
static void times(const double J[3][3], const double *w, double *out) {
  for (int i = 0; i < 3; i++) out[i] = J[i][0] * w[0] + J[i][1] * w[1] + J[i][2] * w[2];
}
/* w x (w x s) */
static void inward(const double *w, const double *s, double *out) { double v[3]; cross(w, s, v); cross(w, v, out); }

static void f(double t, const double *y, double *dy) {
  (void)t;
  double A1[3][3], A2[3][3], R[3][3], M[6][6] = {{0}}, b[6], g1[3], g2[3], a1[3], ak[3], a2[3], x[3], z[3], Jw[3];
  const double *w1 = y + 8, *w2 = y + 11;
  turn(y, A1);
  turn(y + 4, A2);
  for (int i = 0; i < 3; i++)
    for (int j = 0; j < 3; j++) R[i][j] = A1[0][i] * A2[0][j] + A1[1][i] * A2[1][j] + A1[2][i] * A2[2][j];
  for (int i = 0; i < 3; i++) {
    g1[i] = -9.80665 * A1[2][i];
    g2[i] = -9.80665 * A2[2][i];
  }
  /* s x (e x c) for unit vectors e: the columns of the mass matrix */
  for (int j = 0; j < 3; j++) {
    double e[3] = {j == 0, j == 1, j == 2}, v[3], u[3];
    cross(e, c1, v); cross(c1, v, x);
    cross(e, k1, v); cross(k1, v, z);
    for (int i = 0; i < 3; i++) M[i][j] = J1[i][j] + m1 * x[i] + m2 * z[i];
    cross(e, c2, v); cross(c2, v, x);
    for (int i = 0; i < 3; i++) M[3 + i][3 + j] = J2[i][j] + m2 * x[i];
    times(R, v, u); cross(k1, u, x);
    for (int i = 0; i < 3; i++) M[i][3 + j] = M[3 + j][i] = m2 * x[i];
  }
  inward(w1, c1, a1); inward(w1, k1, ak); inward(w2, c2, a2);
  times(R, a2, x);
  double s1[3], s2[3], s3[3];
  for (int i = 0; i < 3; i++) {
    s1[i] = m1 * (a1[i] - g1[i]);
    s2[i] = m2 * (ak[i] + x[i] - g1[i]);
    s3[i] = m2 * (a2[i] + R[0][i] * ak[0] + R[1][i] * ak[1] + R[2][i] * ak[2] - g2[i]);
  }
  times(J1, w1, Jw); cross(w1, Jw, x); cross(c1, s1, z);
  double p[3]; cross(k1, s2, p);
  for (int i = 0; i < 3; i++) b[i] = -x[i] - z[i] - p[i];
  times(J2, w2, Jw); cross(w2, Jw, x); cross(c2, s3, z);
  for (int i = 0; i < 3; i++) b[3 + i] = -x[i] - z[i];
  /* Cholesky */
  for (int j = 0; j < 6; j++) {
    for (int m = 0; m < j; m++) M[j][j] -= M[j][m] * M[j][m];
    M[j][j] = sqrt(M[j][j]);
    for (int i = j + 1; i < 6; i++) {
      for (int m = 0; m < j; m++) M[i][j] -= M[i][m] * M[j][m];
      M[i][j] /= M[j][j];
    }
  }
  for (int i = 0; i < 6; i++) { for (int m = 0; m < i; m++) b[i] -= M[i][m] * b[m]; b[i] /= M[i][i]; }
  for (int i = 5; i >= 0; i--) { for (int m = i + 1; m < 6; m++) b[i] -= M[m][i] * b[m]; b[i] /= M[i][i]; }
  for (int k = 0; k < 2; k++) {
    const double *q = y + 4 * k, *w = y + 8 + 3 * k;
    dy[4 * k] = 0.5 * (-q[1] * w[0] - q[2] * w[1] - q[3] * w[2]);
    dy[4 * k + 1] = 0.5 * (q[0] * w[0] + q[2] * w[2] - q[3] * w[1]);
    dy[4 * k + 2] = 0.5 * (q[0] * w[1] - q[1] * w[2] + q[3] * w[0]);
    dy[4 * k + 3] = 0.5 * (q[0] * w[2] + q[1] * w[1] - q[2] * w[0]);
  }
  for (int i = 0; i < 6; i++) dy[8 + i] = b[i];
}

#include "dop853.h"

/* x of the centre of the second bar */
static double place(const double *y) {
  double A1[3][3], A2[3][3];
  turn(y, A1);
  turn(y + 4, A2);
  return A1[0][0] * k1[0] + A1[0][1] * k1[1] + A1[0][2] * k1[2] + A2[0][0] * c2[0] + A2[0][1] * c2[1] + A2[0][2] * c2[2];
}

int main(int argc, char **argv) { return measured(start, 5, argc > 1 ? atof(argv[1]) : 1e-7, 200, place); }
