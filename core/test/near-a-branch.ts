/** A closed loop of four bodies that comes near a position in which it could branch; drawn at random, all digits count. */
import type { Model } from '../src';
import { checkModel } from '../src/model/file';

export const nearABranch = (): Model =>
  checkModel({
    format: 'vim-pivot-model',
    version: 1,
    name: 'Near a branch',
    run: { until: '0.5 s', every: '5 ms', accuracy: 1e-5 },
    points: [
      { name: 'P0', at: [-0.6185868643224239, 0.6359529956243932, 0.7372025987133384] },
      { name: 'C0', at: [-0.19112842297181487, 0.6579989120364189, -0.1478497958742082] },
      { name: 'P1', at: [0.17306548124179244, -0.034942207392305136, 0.9224988617934287] },
      { name: 'C1', at: [-0.8176194722764194, 0.3536098371259868, 0.6564713479019701] },
      { name: 'P2', at: [0.6084821429103613, 0.27843418531119823, 0.6089843474328518] },
      { name: 'C2', at: [-0.5314239650033414, -0.13027915032580495, -0.05708470521494746] },
      { name: 'P3', at: [-0.6021037376485765, 0.9738860419020057, 0.5809105453081429] },
      { name: 'C3', at: [0.4469735245220363, -0.32781798066571355, 0.6620165156200528] },
      { name: 'L0', at: [-0.5712023843079805, 0.7580834333784878, 0.9732131594792008] },
      { name: 'M0', at: [0.63078368967399, 0.9285154421813786, 0.5325838541612029] },
    ],
    bodies: [
      { name: 'B0', origin: 'C0', mass: 0.5892851768860307, inertia: [0.012554901604622092, 0.03584646171142642, 0.04407814372094247] },
      { name: 'B1', origin: 'C1', mass: 0.4747564333557012, inertia: [0.04358065669623699, 0.01035478787978778, 0.03415896862651989] },
      {
        name: 'B2',
        origin: 'C2',
        mass: 4.067814238314968,
        inertia: [0.29443081098817525, 0.17713410948855296, 0.20973267198676165],
        spin: [-0.36936896620318294, 0.48457897547632456, 1.000962758436799],
      },
      { name: 'B3', origin: 'C3', mass: 0.5299472222230699, inertia: [0.033144936149889025, 0.0457207408191757, 0.020050297941590398] },
    ],
    joints: [
      { name: 'J0', kind: 'distance', bodies: ['Ground', 'B0'], at: ['P0', 'C0'] },
      {
        name: 'J1',
        kind: 'cylindrical',
        bodies: ['Ground', 'B1'],
        at: ['P1'],
        axis: [0.785317525267601, -0.6333038085140288, -0.017661961261183023],
      },
      {
        name: 'J2',
        kind: 'prismatic',
        bodies: ['B1', 'B2'],
        at: ['P2'],
        axis: [0.3949636542238295, 0.57971430150792, -0.9641601806506515],
      },
      { name: 'J3', kind: 'constant-velocity', bodies: ['B2', 'B3'], at: ['P3'] },
      {
        name: 'Loop 0',
        kind: 'point-on-line',
        bodies: ['Ground', 'B3'],
        at: ['L0'],
        axis: [0.8936613099649549, -0.2974288766272366, 0.37289202492684126],
      },
    ],
    drives: [{ name: 'Motor J2', joint: 'J2', prescribes: 'speed', value: '5.040 m*1/s * smoothstep(0 s, 0.385 s, t)' }],
    loads: [{ name: 'Gravity', kind: 'gravity' }],
  });
