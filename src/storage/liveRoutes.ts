import * as yup from 'yup';
import { db, type LoomDb } from './db';
import { NO_ROUTES, type LiveSetting } from './liveSetting';

export const MAX_OFFSET_MS = 200;

const ROUTE = yup
  .object({
    output: yup.string().max(500).required(),
    channel: yup.number().integer().min(0).max(15),
    offset: yup.number().min(-MAX_OFFSET_MS).max(MAX_OFFSET_MS).required(),
  })
  .noUnknown();

const SETTING = yup
  .object({
    routes: yup.lazy((value: unknown) =>
      yup
        .object(
          Object.fromEntries(
            Object.keys((value as object | undefined) ?? {}).map((track) => [track, ROUTE]),
          ),
        )
        .required(),
    ),
    clocks: yup.array().of(yup.string().max(500).required()).required(),
  })
  .noUnknown()
  .required();

const NAME = 'live midi';

/** What was set last; nothing is routed where that cannot be read. */
export async function liveSetting(at: LoomDb = db()): Promise<LiveSetting> {
  const value = (await at.settings.get(NAME))?.value;
  return SETTING.isValidSync(value, { strict: true }) ? (value as LiveSetting) : NO_ROUTES;
}

export async function keepLiveSetting(value: LiveSetting, at: LoomDb = db()): Promise<void> {
  await at.settings.put({ name: NAME, value });
}
