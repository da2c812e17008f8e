import { Fragment } from "react";

const TOKEN = /((?:[A-Za-zα-ωΑ-ΩΔ]|ṁ|V̇)[″′]?)(?:_\{([^}]*)\}|_([A-Za-z0-9]))?|([^A-Za-zα-ωΑ-ΩΔṁ]+)/gu;

/** A formula line in plain symbols (`η_{0,B}`): quantities italic as printed, words and numbers upright. */
export function Formula({ text }: { text: string }) {
  const pieces = text.split(/((?:\b[a-z]{2,}(?:’s)?\b|\blanes\b)(?!_))/u);
  return (
    <span>
      {pieces.map((piece, i) => (i % 2 ? <span key={i}>{piece}</span> : <Fragment key={i}>{symbols(piece)}</Fragment>))}
    </span>
  );
}

function symbols(text: string) {
  return [...text.matchAll(TOKEN)].map((m, i) => {
    if (m[4] !== undefined) return <span key={i}>{m[4]}</span>;
    const sub = m[2] ?? m[3];
    return <i key={i} className="sym">{m[1]}{sub && <sub>{sub}</sub>}</i>;
  });
}
