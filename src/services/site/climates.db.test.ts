import { inventedEpw, writeEpw } from "../../../scripts/testing/inventedEpw";
import { listClimates, markClimateDeleted } from "@/data/site/sites";
import { importEpw } from "@/services/site/climates";
import { readFileText } from "@/data/file/files";
import { testDatabase } from "../../../scripts/testing/database";
import { keepFile } from "../../../scripts/testing/twoBoxes";

const knex = testDatabase("climates");
const keep = (name: string, content: string | Uint8Array, limit?: number) => keepFile(knex, name, content, limit);

describe("climates", () => {
  test("a typical-weather file gives twelve months, keeps its bytes, and refuses what was cut", async () => {
    const text = writeEpw(inventedEpw());
    const good = await keep("ridge.epw", text);
    const answer = await importEpw(knex, good.id, "free");
    expect(answer).toMatchObject({ ok: true, hours: 8760 });
    const own = (await listClimates(knex)).find((c) => answer.ok && c.id === answer.id)!;
    expect(own).toMatchObject({ kind: "epw", licence: "free", rawFileId: good.id });
    expect(await readFileText(knex, own.rawFileId!)).toBe(text);
    const cut = await keep("cut.epw", text.slice(0, text.length / 2));
    expect(await importEpw(knex, cut.id, "")).toMatchObject({ ok: false, problem: { kind: "cutShort" } });
    expect(await importEpw(knex, 999999, "")).toMatchObject({ ok: false, problem: { kind: "gone" } });
    await markClimateDeleted(knex, own.id, true);
    expect((await listClimates(knex)).some((c) => c.id === own.id)).toBe(false);
  }, 60000);
});
