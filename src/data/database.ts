import knexFactory, { type Knex } from "knex";

/** What no request may wait longer for, s: one statement, a lock that another holds, and a transaction in which nothing happens. */
const SERVED = { max_statement_time: 60, innodb_lock_wait_timeout: 15, idle_transaction_timeout: 120 } as const;
/** How long to wait for a connection when all are in use, or for a server that does not answer, ms. */
const PATIENCE_MS = 10_000;

/**
 * A pool on the MariaDB the address names. Sessions run in UTC with strict SQL, whatever the server's defaults;
 * DECIMAL and BIGINT come as numbers, since none here exceeds 2⁵³.
 *
 * @param options.limited what pages and imports ask is bound in time; upgrades, copies and tidying are not
 */
export function createDatabase(url: string, options: { limited?: boolean } = {}): Knex {
  const limits = options.limited ? Object.entries(SERVED).map(([name, s]) => `SESSION ${name} = ${s}`) : [];
  const address = new URL(url);
  return knexFactory({
    client: "mysql2",
    connection: {
      host: address.hostname,
      port: Number(address.port || 3306),
      user: decodeURIComponent(address.username),
      password: decodeURIComponent(address.password),
      database: address.pathname.slice(1),
      supportBigNumbers: true,
      decimalNumbers: true,
      // An object where a value is expected must never become a piece of SQL.
      stringifyObjects: true,
      connectTimeout: PATIENCE_MS,
    },
    acquireConnectionTimeout: PATIENCE_MS,
    pool: {
      min: 0,
      max: 8,
      afterCreate(
        connection: { query(sql: string, done: (error: Error | null) => void): void },
        done: (error: Error | null, connection: unknown) => void,
      ) {
        connection.query(
          `SET ${[
            "SESSION time_zone = '+00:00'",
            "SESSION sql_mode = 'STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO'",
            ...limits,
          ].join(", ")}`,
          (error) => done(error, connection),
        );
      },
    },
  });
}
