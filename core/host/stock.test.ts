import { STOCK_SURFACES, surfaceSchema } from '@rondo/core/surface';
import { HOST_MODELS, hostModelSchema } from './index.js';

test.each([...STOCK_SURFACES.values()].map((one) => [one.id, one] as const))(
  'the schema of surfaces takes %s as it stands, and fills nothing in',
  (_, surface) => expect(surfaceSchema.parse(surface)).toEqual(surface),
);

test.each([...HOST_MODELS.values()].map((one) => [one.id, one] as const))(
  'the schema of hosts takes %s as it stands, and fills nothing in',
  (_, model) => expect(hostModelSchema.parse(model)).toEqual(model),
);
