import { type Mechanism, type Model, Refusal, build } from '@vim-pivot/core/engine';

/** The machine of a model. @throws Refusal when it has errors */
export function mechanismOf(model: Model): Mechanism {
  const built = build(model);
  if (!built.mechanism) throw new Refusal(built.diagnoses.filter((d) => d.severity === 'error'));
  return built.mechanism;
}
