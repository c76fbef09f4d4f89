import { OF_KIT, STANDING, instance, standing } from './instance';

export const single = instance({
  kind: 'single',
  label: 'Instance of a kit',
  makes: 'one',
  help: 'A kit put into the machine once.',
  fields: { ...OF_KIT, ...STANDING },
  members: (v) => [standing(v)],
});
