import knexFactory, { type Knex } from "knex";

/**
 * A pool on the MariaDB the address names. Sessions run in UTC with strict SQL, whatever the server's defaults;
 * DECIMAL and BIGINT come as numbers, since none here exceeds 2⁵³.
 */
export function createDatabase(url: string): Knex {
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
    },
    pool: {
      min: 0,
      max: 8,
      afterCreate(
        connection: { query(sql: string, done: (error: Error | null) => void): void },
        done: (error: Error | null, connection: unknown) => void,
      ) {
        connection.query(
          "SET SESSION time_zone = '+00:00', SESSION sql_mode = 'STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO'",
          (error) => done(error, connection),
        );
      },
    },
  });
}
