import * as yup from 'yup';
import { within, type Song } from '../model';
import { accepts, type Value, type Values } from './value';

/** The Yup schema of the values a command takes: what a form is checked with. */
export function schemaOf(values: Values, song: Song): yup.ObjectSchema<yup.AnyObject> {
  const shape = Object.fromEntries(
    Object.entries(values).map(([name, value]) => [name, schemaOfValue(value, song)]),
  );
  return yup.object(shape) as yup.ObjectSchema<yup.AnyObject>;
}

function schemaOfValue(value: Value<unknown>, song: Song): yup.Schema {
  const { shape, says } = value;
  const must = `must be ${says}`;
  if (shape.kind === 'number') {
    const inside = yup
      .number()
      .typeError(must)
      .test('limits', must, (given) => given === undefined || within(given, shape.limits));
    return shape.whole ? inside.integer(must) : inside;
  }
  if (shape.kind === 'text') {
    const short = yup.string().max(shape.most, must);
    return shape.fits ? short.matches(shape.fits, must) : short;
  }
  return yup.mixed().test('is', must, (given) => accepts(value, given, song));
}
