/** MariaDB gives JSON columns as text; drivers of other servers may give objects. */
export const json = <T>(value: unknown): T => (typeof value === "string" ? JSON.parse(value) : value) as T;
