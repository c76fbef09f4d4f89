/**
 * Writes an assembly of extruded plates as STEP (ISO 10303-21, AP214): outlines of lines and arcs with round holes, as exact boundary
 * representation, each part a product with a colour under one assembly. Lengths in mm.
 */
type V3 = readonly [number, number, number];
export type Side = { to: readonly [number, number]; /** Arc about a centre, counter-clockwise. */ centre?: readonly [number, number] };

export interface Plate {
  name: string;
  colour: V3;
  /** Counter-clockwise in the x-z plane, seen against y. */
  start: readonly [number, number];
  sides: readonly Side[];
  holes: readonly { at: readonly [number, number]; radius: number }[];
  /** Extent along y. */
  from: number;
  to: number;
  /** Where it occurs in the assembly, with its z axis and x axis there; left out: once, as it is. */
  places?: readonly { name: string; at: V3; z: V3; x: V3 }[];
}

/** An assembly within an assembly. */
export interface Group {
  name: string;
  of: readonly (Plate | Group)[];
  /** As those of a plate. */
  places?: Plate['places'];
}

export const writeStep = (title: string, content: readonly (Plate | Group)[]): string => new StepFile().text(title, content);

const Y: V3 = [0, 1, 0],
  X: V3 = [1, 0, 0];
const num = (x: number) => (Number.isInteger(Number(x.toFixed(6))) ? `${Number(x.toFixed(6))}.` : String(Number(x.toFixed(6))));
const list = (v: readonly number[]) => `(${v.map(num).join(',')})`;
const put = ([x, z]: readonly [number, number], y: number): V3 => [x, y, z];
const away = (a: readonly number[], b: readonly number[]) => Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!);

interface Made {
  definition: string;
  shape: string;
  at: string;
}

/** Lines of a file as they are written: each refers to those before it by number. */
class StepFile {
  private readonly lines: string[] = [];
  private readonly productContext: string;
  private readonly definitionContext: string;
  private readonly space: string;
  private count = 0;

  constructor() {
    const context = this.add("APPLICATION_CONTEXT('automotive design')");
    this.add(`APPLICATION_PROTOCOL_DEFINITION('international standard','automotive_design',2000,${context})`);
    this.productContext = this.add(`PRODUCT_CONTEXT('',${context},'mechanical')`);
    this.definitionContext = this.add(`PRODUCT_DEFINITION_CONTEXT('part definition',${context},'design')`);
    const length = this.add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))'),
      angle = this.add('(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))'),
      solid = this.add('(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())');
    const exact = this.add(`UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-05),${length},'distance_accuracy_value','')`);
    this.space = this.add(
      `(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT((${exact}))GLOBAL_UNIT_ASSIGNED_CONTEXT((${length},${angle},${solid}))REPRESENTATION_CONTEXT('',''))`,
    );
  }

  text(title: string, content: readonly (Plate | Group)[]): string {
    this.assembly(title, content);
    return `ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION(('made-up machine'),'2;1');\nFILE_NAME('${title}','2026-01-01T00:00:00',(''),(''),'','','');\nFILE_SCHEMA(('AUTOMOTIVE_DESIGN { 1 0 10303 214 1 1 1 1 }'));\nENDSEC;\nDATA;\n${this.lines.map((l, i) => `#${i + 1}=${l};`).join('\n')}\nENDSEC;\nEND-ISO-10303-21;\n`;
  }

  private add(text: string): string {
    return `#${this.lines.push(text)}`;
  }
  private point(v: V3): string {
    return this.add(`CARTESIAN_POINT('',${list(v)})`);
  }
  private direction(v: V3): string {
    return this.add(`DIRECTION('',${list(v)})`);
  }
  private axes(at: V3, z: V3, x: V3): string {
    return this.add(`AXIS2_PLACEMENT_3D('',${this.point(at)},${this.direction(z)},${this.direction(x)})`);
  }
  private home(): string {
    return this.axes([0, 0, 0], [0, 0, 1], X);
  }
  private product(name: string): { definition: string; shape: string } {
    const p = this.add(`PRODUCT('${name}','${name}','',(${this.productContext}))`);
    this.add(`PRODUCT_RELATED_PRODUCT_CATEGORY('part','',(${p}))`);
    const formation = this.add(`PRODUCT_DEFINITION_FORMATION('','',${p})`);
    const definition = this.add(`PRODUCT_DEFINITION('design','',${formation},${this.definitionContext})`);
    return { definition, shape: this.add(`PRODUCT_DEFINITION_SHAPE('','',${definition})`) };
  }

  private vertex(at: V3): string {
    return this.add(`VERTEX_POINT('',${this.point(at)})`);
  }
  /** An edge between two vertices, used by the faces on both its sides. */
  private edge(a: string, b: string, curve: string): string {
    return this.add(`EDGE_CURVE('',${a},${b},${curve},.T.)`);
  }
  private oriented(e: string, forth: boolean): string {
    return this.add(`ORIENTED_EDGE('',*,*,${e},${forth ? '.T.' : '.F.'})`);
  }
  private loop(edges: readonly string[]): string {
    return this.add(`EDGE_LOOP('',(${edges.join(',')}))`);
  }
  private line(a: V3, b: V3): string {
    const d = b.map((x, k) => x - a[k]!) as unknown as V3,
      l = Math.hypot(...d);
    const from = this.point(a);
    return this.add(`LINE('',${from},${this.add(`VECTOR('',${this.direction(d.map((x) => x / l) as unknown as V3)},1.)`)})`);
  }
  /** In x-z, counter-clockwise seen against y means turning about −y. */
  private round(centre: readonly [number, number], radius: number, y: number): string {
    return this.add(`CIRCLE('',${this.axes(put(centre, y), [0, -1, 0], X)},${num(radius)})`);
  }
  private cylinder(centre: readonly [number, number], y: number, radius: number): string {
    return this.add(`CYLINDRICAL_SURFACE('',${this.axes(put(centre, y), Y, X)},${num(radius)})`);
  }
  private plane(at: V3, normal: V3, x: V3): string {
    return this.add(`PLANE('',${this.axes(at, normal, x)})`);
  }
  /** @param inner further bounds of it */
  private face(outer: string, surface: string, along: boolean, inner: readonly string[] = []): string {
    const bounds = [this.add(`FACE_OUTER_BOUND('',${outer},.T.)`), ...inner];
    return this.add(`ADVANCED_FACE('',(${bounds.join(',')}),${surface},${along ? '.T.' : '.F.'})`);
  }

  private brep(p: Plate): string {
    const { faces: sides, along } = this.sides(p);
    const { faces: bores, rims } = this.bores(p);
    const ends = ([0, 1] as const).map((k) => {
      const outer = this.loop(
        k ? along[1]!.map((e) => this.oriented(e, true)) : [...along[0]!].reverse().map((e) => this.oriented(e, false)),
      );
      const inner = rims.map((r) => this.add(`FACE_BOUND('',${this.loop([this.oriented(r[k]!, k === 0)])},.T.)`));
      // seen against y the outline is counter-clockwise: the face at the far end of y looks along y
      return this.face(outer, this.plane([0, k ? p.to : p.from, 0], k ? Y : [0, -1, 0], X), true, inner);
    });
    return this.add(`MANIFOLD_SOLID_BREP('${p.name}',${this.add(`CLOSED_SHELL('',(${[...sides, ...bores, ...ends].join(',')}))`)})`);
  }

  /** Faces round the outline, and its edges at both ends of y. */
  private sides(p: Plate): { faces: string[]; along: string[][] } {
    const spots = [p.start, ...p.sides.map((s) => s.to)].slice(0, p.sides.length);
    const after = (i: number) => (i + 1) % spots.length;
    const vertices = [p.from, p.to].map((y) => spots.map((s) => this.vertex(put(s, y))));
    const along = [p.from, p.to].map((y, k) =>
      p.sides.map((s, i) => {
        const [a, b] = [spots[i]!, spots[after(i)]!];
        const curve = s.centre ? this.round(s.centre, away(a, s.centre), y) : this.line(put(a, y), put(b, y));
        return this.edge(vertices[k]![i]!, vertices[k]![after(i)]!, curve);
      }),
    );
    const across = spots.map((s, i) => this.edge(vertices[0]![i]!, vertices[1]![i]!, this.line(put(s, p.from), put(s, p.to))));
    const faces = p.sides.map((s, i) => {
      const [a, b] = [spots[i]!, spots[after(i)]!];
      const bound = this.loop([
        this.oriented(along[0]![i]!, true),
        this.oriented(across[after(i)]!, true),
        this.oriented(along[1]![i]!, false),
        this.oriented(across[i]!, false),
      ]);
      const surface = s.centre
        ? this.cylinder(s.centre, p.from, away(a, s.centre))
        : this.plane(put(a, p.from), [(b[1] - a[1]) / away(a, b), 0, -(b[0] - a[0]) / away(a, b)], Y);
      return this.face(bound, surface, true);
    });
    return { faces, along };
  }

  /** Faces of the holes, and their rims at both ends of y. */
  private bores(p: Plate): { faces: string[]; rims: [string, string][] } {
    const rims: [string, string][] = [];
    const faces = p.holes.map((h) => {
      const start = [h.at[0] + h.radius, h.at[1]] as const;
      const [low, high] = [p.from, p.to].map((y) => {
        const v = this.vertex(put(start, y));
        return { v, e: this.edge(v, v, this.round(h.at, h.radius, y)) };
      }) as [{ v: string; e: string }, { v: string; e: string }];
      rims.push([low.e, high.e]);
      const seam = this.edge(low.v, high.v, this.line(put(start, p.from), put(start, p.to)));
      const bound = this.loop([
        this.oriented(low.e, false),
        this.oriented(seam, true),
        this.oriented(high.e, true),
        this.oriented(seam, false),
      ]);
      return this.face(bound, this.cylinder(h.at, p.from, h.radius), false);
    });
    return { faces, rims };
  }

  /** A part: its product, body and colour. */
  private part(p: Plate): Made {
    const own = this.product(p.name),
      body = this.brep(p),
      at = this.home();
    const shape = this.add(`ADVANCED_BREP_SHAPE_REPRESENTATION('${p.name}',(${at},${body}),${this.space})`);
    this.add(`SHAPE_DEFINITION_REPRESENTATION(${own.shape},${shape})`);
    const fill = this.add(
      `FILL_AREA_STYLE('',(${this.add(`FILL_AREA_STYLE_COLOUR('',${this.add(`COLOUR_RGB('',${p.colour.map((c) => num(c)).join(',')})`)})`)}))`,
    );
    const style = this.add(
      `PRESENTATION_STYLE_ASSIGNMENT((${this.add(`SURFACE_STYLE_USAGE(.BOTH.,${this.add(`SURFACE_SIDE_STYLE('',(${this.add(`SURFACE_STYLE_FILL_AREA(${fill})`)}))`)})`)}))`,
    );
    this.add(
      `MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION('',(${this.add(`STYLED_ITEM('',(${style}),${body})`)}),${this.space})`,
    );
    return { definition: own.definition, shape, at };
  }

  /** An assembly: parts and assemblies, each made once and put where it occurs. */
  private assembly(name: string, content: readonly (Plate | Group)[]): Made {
    const own = this.product(name),
      at = this.home();
    const members = content.map((c) => ({
      ...('of' in c ? this.assembly(c.name, c.of) : this.part(c)),
      places: c.places?.map((q) => ({ name: q.name, place: this.axes(q.at, q.z, q.x) })) ?? [{ name: c.name, place: this.home() }],
    }));
    const shape = this.add(
      `SHAPE_REPRESENTATION('${name}',(${[at, ...members.flatMap((p) => p.places.map((q) => q.place))].join(',')}),${this.space})`,
    );
    this.add(`SHAPE_DEFINITION_REPRESENTATION(${own.shape},${shape})`);
    for (const p of members)
      for (const { name: occurrence, place } of p.places) {
        const use = this.add(`NEXT_ASSEMBLY_USAGE_OCCURRENCE('${++this.count}','${occurrence}','',${own.definition},${p.definition},$)`);
        const related = this.add(
          `(REPRESENTATION_RELATIONSHIP('','',${p.shape},${shape})REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(${this.add(`ITEM_DEFINED_TRANSFORMATION('','',${p.at},${place})`)})SHAPE_REPRESENTATION_RELATIONSHIP())`,
        );
        this.add(`CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(${related},${this.add(`PRODUCT_DEFINITION_SHAPE('','',${use})`)})`);
      }
    return { definition: own.definition, shape, at };
  }
}
