/**
 * Stiffness of the tip of a straight beam against its root, along (x, y, z, about x, y, z) with x along the beam: Euler-Bernoulli
 * (Przemieniecki, Theory of Matrix Structural Analysis, sec. 5.6, without shear).
 * @param data length m, axial stiffness EA N, bending stiffness EIy and EIz and torsional stiffness GJ, N·m²
 */
export function beamStiffness({
  length: l,
  EA,
  EIy,
  EIz,
  GJ,
}: {
  length: number;
  EA: number;
  EIy: number;
  EIz: number;
  GJ: number;
}): Float64Array {
  const K = new Float64Array(36);
  const set = (i: number, j: number, v: number) => {
    K[6 * i + j] = v;
    K[6 * j + i] = v;
  };
  set(0, 0, EA / l);
  set(1, 1, (12 * EIz) / (l * l * l));
  set(1, 5, (-6 * EIz) / (l * l));
  set(5, 5, (4 * EIz) / l);
  set(2, 2, (12 * EIy) / (l * l * l));
  set(2, 4, (6 * EIy) / (l * l));
  set(4, 4, (4 * EIy) / l);
  set(3, 3, GJ / l);
  return K;
}
