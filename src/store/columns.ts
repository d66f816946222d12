import { char, customType, datetime, varchar } from 'drizzle-orm/mysql-core';

/** Sorts of columns that the tables share. */

export const id = (name?: string) => (name === undefined ? char({ length: 26 }) : char(name, { length: 26 }));
export const key = () => varchar({ length: 63 });
/** A step, and within lines which of them: `STEP#LINE`. */
export const spot = () => varchar({ length: 100 });
export const moment = () => datetime({ mode: 'string', fsp: 6 });
/** JSON kept as text: the server's JSON type is an alias of it, and the driver gives both as strings. */
export const json = customType<{ data: unknown; driverData: string }>({ dataType: () => 'longtext', toDriver: (value) => JSON.stringify(value), fromDriver: (value) => JSON.parse(value) as unknown });
export const bytes = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'varbinary(2000)' });
