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

export function writeStep(title: string, content: readonly (Plate | Group)[]): string {
  const lines: string[] = [];
  const add = (text: string): string => `#${lines.push(text)}`;
  const num = (x: number) => (Number.isInteger(Number(x.toFixed(6))) ? `${Number(x.toFixed(6))}.` : String(Number(x.toFixed(6))));
  const list = (v: readonly number[]) => `(${v.map(num).join(',')})`;
  const point = (v: V3) => add(`CARTESIAN_POINT('',${list(v)})`);
  const direction = (v: V3) => add(`DIRECTION('',${list(v)})`);
  const axes = (at: V3, z: V3, x: V3) => add(`AXIS2_PLACEMENT_3D('',${point(at)},${direction(z)},${direction(x)})`);
  const Y: V3 = [0, 1, 0],
    X: V3 = [1, 0, 0];
  const put = ([x, z]: readonly [number, number], y: number): V3 => [x, y, z];

  const context = add("APPLICATION_CONTEXT('automotive design')");
  add(`APPLICATION_PROTOCOL_DEFINITION('international standard','automotive_design',2000,${context})`);
  const productContext = add(`PRODUCT_CONTEXT('',${context},'mechanical')`),
    definitionContext = add(`PRODUCT_DEFINITION_CONTEXT('part definition',${context},'design')`);
  const length = add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))'),
    angle = add('(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))'),
    solid = add('(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())');
  const exact = add(`UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-05),${length},'distance_accuracy_value','')`);
  const space = add(
    `(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT((${exact}))GLOBAL_UNIT_ASSIGNED_CONTEXT((${length},${angle},${solid}))REPRESENTATION_CONTEXT('',''))`,
  );
  const product = (name: string) => {
    const p = add(`PRODUCT('${name}','${name}','',(${productContext}))`);
    add(`PRODUCT_RELATED_PRODUCT_CATEGORY('part','',(${p}))`);
    const definition = add(`PRODUCT_DEFINITION('design','',${add(`PRODUCT_DEFINITION_FORMATION('','',${p})`)},${definitionContext})`);
    return { definition, shape: add(`PRODUCT_DEFINITION_SHAPE('','',${definition})`) };
  };
  const home = () => axes([0, 0, 0], [0, 0, 1], X);

  /** An edge between two vertices, used by the faces on both its sides. */
  const edge = (a: string, b: string, curve: string) => add(`EDGE_CURVE('',${a},${b},${curve},.T.)`);
  const oriented = (e: string, forth: boolean) => add(`ORIENTED_EDGE('',*,*,${e},${forth ? '.T.' : '.F.'})`);
  const loop = (edges: readonly string[]) => add(`EDGE_LOOP('',(${edges.join(',')}))`);
  const line = (a: V3, b: V3) => {
    const d = b.map((x, k) => x - a[k]!) as unknown as V3,
      l = Math.hypot(...d);
    return add(`LINE('',${point(a)},${add(`VECTOR('',${direction(d.map((x) => x / l) as unknown as V3)},1.)`)})`);
  };
  // in x-z, counter-clockwise seen against y means turning about −y
  const round = (centre: readonly [number, number], radius: number, y: number) =>
    add(`CIRCLE('',${axes(put(centre, y), [0, -1, 0], X)},${num(radius)})`);

  function brep(p: Plate): string {
    const faces: string[] = [],
      spots = [p.start, ...p.sides.map((s) => s.to)].slice(0, p.sides.length);
    const vertices = [p.from, p.to].map((y) => spots.map((s) => add(`VERTEX_POINT('',${point(put(s, y))})`)));
    const along = [0, 1].map((k) =>
      p.sides.map((s, i) => {
        const y = k ? p.to : p.from,
          a = spots[i]!,
          b = spots[(i + 1) % spots.length]!;
        return edge(
          vertices[k]![i]!,
          vertices[k]![(i + 1) % spots.length]!,
          s.centre ? round(s.centre, Math.hypot(a[0] - s.centre[0], a[1] - s.centre[1]), y) : line(put(a, y), put(b, y)),
        );
      }),
    );
    const across = spots.map((s, i) => edge(vertices[0]![i]!, vertices[1]![i]!, line(put(s, p.from), put(s, p.to))));
    p.sides.forEach((s, i) => {
      const next = (i + 1) % spots.length,
        a = spots[i]!,
        b = spots[next]!;
      const bound = loop([
        oriented(along[0]![i]!, true),
        oriented(across[next]!, true),
        oriented(along[1]![i]!, false),
        oriented(across[i]!, false),
      ]);
      const surface = s.centre
        ? add(`CYLINDRICAL_SURFACE('',${axes(put(s.centre, p.from), Y, X)},${num(Math.hypot(a[0] - s.centre[0], a[1] - s.centre[1]))})`)
        : add(
            `PLANE('',${axes(put(a, p.from), [(b[1] - a[1]) / Math.hypot(b[0] - a[0], b[1] - a[1]), 0, -(b[0] - a[0]) / Math.hypot(b[0] - a[0], b[1] - a[1])], Y)})`,
          );
      faces.push(add(`ADVANCED_FACE('',(${add(`FACE_OUTER_BOUND('',${bound},.T.)`)}),${surface},.T.)`));
    });
    const rims = p.holes.map((h) =>
      [p.from, p.to].map((y) => {
        const v = add(`VERTEX_POINT('',${point(put([h.at[0] + h.radius, h.at[1]], y))})`);
        return { v, e: edge(v, v, round(h.at, h.radius, y)) };
      }),
    );
    p.holes.forEach((h, i) => {
      const [low, high] = rims[i] as [{ v: string; e: string }, { v: string; e: string }];
      const seam = edge(low.v, high.v, line(put([h.at[0] + h.radius, h.at[1]], p.from), put([h.at[0] + h.radius, h.at[1]], p.to)));
      const bound = loop([oriented(low.e, false), oriented(seam, true), oriented(high.e, true), oriented(seam, false)]);
      faces.push(
        add(
          `ADVANCED_FACE('',(${add(`FACE_OUTER_BOUND('',${bound},.T.)`)}),${add(`CYLINDRICAL_SURFACE('',${axes(put(h.at, p.from), Y, X)},${num(h.radius)})`)},.F.)`,
        ),
      );
    });
    for (const k of [0, 1] as const) {
      const outer = loop(k ? along[1]!.map((e) => oriented(e, true)) : [...along[0]!].reverse().map((e) => oriented(e, false)));
      const inner = rims.map((r) => add(`FACE_BOUND('',${loop([oriented(r[k]!.e, k === 0)])},.T.)`));
      // seen against y the outline is counter-clockwise: the face at the far end of y looks along y
      faces.push(
        add(
          `ADVANCED_FACE('',(${[add(`FACE_OUTER_BOUND('',${outer},.T.)`), ...inner].join(',')}),${add(`PLANE('',${axes([0, k ? p.to : p.from, 0], k ? Y : [0, -1, 0], X)})`)},.T.)`,
        ),
      );
    }
    return add(`MANIFOLD_SOLID_BREP('${p.name}',${add(`CLOSED_SHELL('',(${faces.join(',')}))`)})`);
  }

  interface Made {
    definition: string;
    shape: string;
    at: string;
  }
  let count = 0;
  /** A part: its product, body and colour. */
  function part(p: Plate): Made {
    const own = product(p.name),
      body = brep(p),
      at = home();
    const shape = add(`ADVANCED_BREP_SHAPE_REPRESENTATION('${p.name}',(${at},${body}),${space})`);
    add(`SHAPE_DEFINITION_REPRESENTATION(${own.shape},${shape})`);
    const fill = add(
      `FILL_AREA_STYLE('',(${add(`FILL_AREA_STYLE_COLOUR('',${add(`COLOUR_RGB('',${p.colour.map((c) => num(c)).join(',')})`)})`)}))`,
    );
    const style = add(
      `PRESENTATION_STYLE_ASSIGNMENT((${add(`SURFACE_STYLE_USAGE(.BOTH.,${add(`SURFACE_SIDE_STYLE('',(${add(`SURFACE_STYLE_FILL_AREA(${fill})`)}))`)})`)}))`,
    );
    add(`MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION('',(${add(`STYLED_ITEM('',(${style}),${body})`)}),${space})`);
    return { definition: own.definition, shape, at };
  }
  /** An assembly: parts and assemblies, each made once and put where it occurs. */
  function assembly(name: string, content: readonly (Plate | Group)[]): Made {
    const own = product(name),
      at = home();
    const members = content.map((c) => ({
      ...('of' in c ? assembly(c.name, c.of) : part(c)),
      places: c.places?.map((q) => ({ name: q.name, place: axes(q.at, q.z, q.x) })) ?? [{ name: c.name, place: home() }],
    }));
    const shape = add(
      `SHAPE_REPRESENTATION('${name}',(${[at, ...members.flatMap((p) => p.places.map((q) => q.place))].join(',')}),${space})`,
    );
    add(`SHAPE_DEFINITION_REPRESENTATION(${own.shape},${shape})`);
    for (const p of members)
      for (const { name: occurrence, place } of p.places) {
        const use = add(`NEXT_ASSEMBLY_USAGE_OCCURRENCE('${++count}','${occurrence}','',${own.definition},${p.definition},$)`);
        const related = add(
          `(REPRESENTATION_RELATIONSHIP('','',${p.shape},${shape})REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(${add(`ITEM_DEFINED_TRANSFORMATION('','',${p.at},${place})`)})SHAPE_REPRESENTATION_RELATIONSHIP())`,
        );
        add(`CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(${related},${add(`PRODUCT_DEFINITION_SHAPE('','',${use})`)})`);
      }
    return { definition: own.definition, shape, at };
  }
  assembly(title, content);
  return `ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION(('made-up machine'),'2;1');\nFILE_NAME('${title}','2026-01-01T00:00:00',(''),(''),'','','');\nFILE_SCHEMA(('AUTOMOTIVE_DESIGN { 1 0 10303 214 1 1 1 1 }'));\nENDSEC;\nDATA;\n${lines.map((l, i) => `#${i + 1}=${l};`).join('\n')}\nENDSEC;\nEND-ISO-10303-21;\n`;
}
