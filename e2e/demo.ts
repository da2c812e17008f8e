import { test, type Page } from "@playwright/test";
import { createDatabase } from "../src/data/database";
import { server } from "./server";

const { databaseUrl: url, demo: kept } = server;

/**
 * Begins a file of tests with the demo world as shipped, whatever files before it left. Rows go and come one by one, so
 * numbers once given are not given again to something else. Against a server of one's own (no address given) nothing is touched.
 */
export const withFreshDemo = (): void =>
  test.beforeAll(async () => {
    if (!url || !kept) return;
    const knex = createDatabase(url);
    try {
      const [tables] = (await knex.raw(
        "SELECT TABLE_NAME AS name FROM information_schema.TABLES WHERE TABLE_SCHEMA = ?",
        [kept],
      )) as [{ name: string }[]];
      if (!tables.length) throw new Error(`the demo kept in ${kept} is not there`);
      await knex.transaction(async (trx) => {
        await trx.raw("SET FOREIGN_KEY_CHECKS = 0");
        for (const { name } of tables) {
          await trx(name).delete();
          await trx.raw("INSERT INTO ?? SELECT * FROM ??.??", [name, kept, name]);
        }
        await trx.raw("SET FOREIGN_KEY_CHECKS = 1");
      });
    } finally {
      await knex.destroy();
    }
  });

/** Address of an experiment by its name, from the bench: its steps stand below it. */
export async function addressOf(page: Page, name: string): Promise<string> {
  await page.goto("/");
  const link = page.getByRole("link", { name: new RegExp(`^${name}`) }).first();
  return (await link.getAttribute("href"))!.match(/^\/experiments\/\d+/)![0];
}
