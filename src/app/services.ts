import { openServices, type Services } from '@/services/context';
import { resolveSettings } from '@/settings/settings';

/** One set of services per server process; kept across reloads while developing. */
const place = globalThis as typeof globalThis & { leadlineServices?: Services };

export const services = (): Services => (place.leadlineServices ??= openServices(resolveSettings(), 12));
