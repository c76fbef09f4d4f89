/**
 * Stiffness of the tip of a straight beam against its root, along (x, y, z, about x, y, z) with x along the beam (Przemieniecki, Theory of Matrix Structural
 * Analysis, sec. 5.6): Timoshenko's where a shear stiffness is given, else Euler-Bernoulli's.
 * @param data length m, axial stiffness EA N, bending stiffness EIy and EIz and torsional stiffness GJ, N·m², shear stiffness κGA N
 */
export function beamStiffness({
  length: l,
  EA,
  EIy,
  EIz,
  GJ,
  shear = Infinity,
}: {
  length: number;
  EA: number;
  EIy: number;
  EIz: number;
  GJ: number;
  shear?: number;
}): Float64Array {
  const K = new Float64Array(36);
  const set = (i: number, j: number, v: number) => {
    K[6 * i + j] = v;
    K[6 * j + i] = v;
  };
  set(0, 0, EA / l);
  for (const [y, about, EI, sense] of [
    [1, 5, EIz, -1],
    [2, 4, EIy, 1],
  ] as const) {
    // how much of what it gives way is shear
    const phi = (12 * EI) / (shear * l * l),
      k = EI / (l * (1 + phi));
    set(y, y, (12 * k) / (l * l));
    set(y, about, (sense * 6 * k) / l);
    set(about, about, (4 + phi) * k);
  }
  set(3, 3, GJ / l);
  return K;
}
