/** What one row of browser tests runs against. */
export interface TestServer {
  address: string;
  /** Absent against a server of one's own: nothing of its database is touched. */
  databaseUrl?: string;
  /** Name of the database that keeps the demo world as shipped. */
  demo?: string;
}

/** Set by ./bravel test: a server with a database of its own for each row of files that runs beside others. */
const own = process.env.BRAVEL_TEST_SERVERS;

export const SERVERS: readonly TestServer[] = own
  ? (JSON.parse(own) as TestServer[])
  : [{ address: process.env.BRAVEL_TEST_ADDRESS ?? "http://bravel-test-address-is-not-set.invalid" }];

/** The one of this process. */
export const server: TestServer = SERVERS[Number(process.env.TEST_PARALLEL_INDEX ?? 0) % SERVERS.length];
