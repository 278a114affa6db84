import { isBodied, kindOfFixture, shapeOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import { bodyAt, boxAt, zoneAt } from '../space/shapes';
import type { Shape } from '../space/shapes';
import type { Collection, Thing } from './level';
import type { Visitor } from './people';
import type { Solid, Zone } from './places';

/** How large something without a body is taken to be where its kind does not say, in metres. */
const bodiless = { x: 0.3, y: 0.3, z: 0.3 };

/** The shape of a thing where the document has it; null of what stands nowhere. */
export function shapeOfThing(collection: Collection, thing: Thing): Shape | null {
  switch (collection) {
    case 'zones': {
      const { shape, at, heading } = thing as Zone;
      return zoneAt(shape, at, heading);
    }
    case 'solids': {
      const { at, size, heading } = thing as Solid;
      return boxAt(at, size, heading);
    }
    case 'fixtures': {
      const one = thing as Fixture;
      return isBodied(one) ? shapeOfFixture(one) : boxAt(one.at, kindOfFixture(one.kind).side.size ?? bodiless, one.heading);
    }
    case 'visitors': {
      const { body, at } = thing as Visitor;
      return bodyAt(body, at);
    }
    default:
      return null;
  }
}
