const SYMBOL = "(?:Δ?[A-Za-zα-ωΑ-Ω]|ṁ|V̇|Ṫ)[″′]?";
const TOKEN = new RegExp(
  `(?<base>${SYMBOL})_(?:\\{(?<long>[^}]*)\\}|(?<short>[A-Za-z0-9]))|(?<word>[a-z]{2,}(?:’s)?)|(?<symbol>${SYMBOL})|(?<rest>[\\s\\S])`,
  "gu",
);

/** A formula line in plain symbols (`η_{0,B}`): quantities italic as printed in books, words and numbers upright. */
export function Formula({ text }: { text: string }) {
  return (
    <span>
      {[...text.matchAll(TOKEN)].map((m, i) => {
        const { base, long, short, word, symbol, rest } = m.groups!;
        if (base)
          return (
            <i key={i} className="sym">
              {base}
              <sub>{long ?? short}</sub>
            </i>
          );
        if (symbol)
          return (
            <i key={i} className="sym">
              {symbol}
            </i>
          );
        return word ?? rest;
      })}
    </span>
  );
}
