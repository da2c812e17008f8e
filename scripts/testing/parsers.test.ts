import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { hostileTexts, NO_PARSERS, PARSERS } from "./parsers";

/** Types by which a text comes in. */
const TEXTS = ["string", "unknown", "string | null", "string[]", "readonly string[]"];
const isExported = (node: ts.Node): boolean =>
  ts.canHaveModifiers(node) && (ts.getModifiers(node) ?? []).some((m) => m.kind === ts.SyntaxKind.ExportKeyword);

/** Exported functions of the core that take a text first, and classes that are pushed one. */
function takingText(): string[] {
  const root = "src/core";
  const files = (readdirSync(root, { recursive: true }) as string[]).filter(
    (f) => f.endsWith(".ts") && !f.includes(".test."),
  );
  return files.flatMap((file) => {
    const source = ts.createSourceFile(file, readFileSync(join(root, file), "utf8"), ts.ScriptTarget.Latest, true);
    const takes = (fn: ts.SignatureDeclaration) => TEXTS.includes(fn.parameters[0]?.type?.getText() ?? "");
    return source.statements.filter(isExported).flatMap((node) => {
      if (ts.isFunctionDeclaration(node)) return takes(node) ? [node.name!.text] : [];
      if (ts.isClassDeclaration(node))
        return node.members.some((m) => ts.isMethodDeclaration(m) && m.name.getText() === "push" && takes(m))
          ? [node.name!.text]
          : [];
      if (!ts.isVariableStatement(node)) return [];
      return node.declarationList.declarations.flatMap((d) =>
        d.initializer && ts.isArrowFunction(d.initializer) && takes(d.initializer) ? [d.name.getText()] : [],
      );
    });
  });
}

test("everything in the core that takes a text is measured as a parser, or said why it is none", () => {
  const known = [...Object.keys(PARSERS), ...Object.keys(NO_PARSERS)];
  const taking = [...new Set(takingText())];
  expect(taking.filter((name) => !known.includes(name))).toEqual([]);
  expect(known.filter((name) => !taking.includes(name))).toEqual([]);
});

// How their time grows is measured by bench/parsing.ts.
describe.each(Object.entries(PARSERS))("%s", (_, read) => {
  test("answers every text of the grammar", () => {
    jest.spyOn(console, "warn").mockImplementation(() => undefined);
    for (const [, text] of hostileTexts(1500)) read(text);
  });
});
