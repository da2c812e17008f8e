import type { ParsedQuantity, QuantityProblem } from "@/core/quantity/parseQuantity";

export function quantityProblemWords(problem: QuantityProblem): string {
  switch (problem.kind) {
    case "empty":
      return "Type a figure.";
    case "notANumber":
      return `“${problem.text}” is not a number.`;
    case "ambiguousNumber":
      return `“${problem.text}” can mean ${problem.readings[0]} or ${problem.readings[1]}. Write it without the mark, or with a point.`;
    case "unknownUnit":
      return `“${problem.unit}” is no unit here. Use ${problem.accepted.slice(0, 5).join(", ")}.`;
  }
}

export const parsedProblem = (parsed: ParsedQuantity): string | null =>
  parsed.ok ? null : quantityProblemWords(parsed.problem);
