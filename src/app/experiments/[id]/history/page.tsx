import type { Metadata } from "next";
import Link from "next/link";
import { notFound } from "next/navigation";
import { experimentHistory } from "@/services/experiment/history";
import { database } from "@/services/web/connection";
import { routeId } from "@/services/web/routeId";

export const metadata: Metadata = { title: "History" };
export const dynamic = "force-dynamic";

interface Asked {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ before?: string | string[] }>;
}

const at = (ms: number) => new Date(ms).toISOString().slice(0, 16).replace("T", " ");

/** Who did what in an experiment, and when. */
export default async function Page({ params, searchParams }: Asked) {
  const id = routeId((await params).id);
  const { before } = await searchParams;
  if (id === null) notFound();
  const history = await experimentHistory(
    database(),
    id,
    typeof before === "string" ? (routeId(before) ?? undefined) : undefined,
  );
  if (!history) notFound();
  return (
    <div className="px-4 py-4 sm:px-6">
      <p className="side">
        <Link href={`/experiments/${id}`}>
          <bdi>{history.name}</bdi>
        </Link>
      </p>
      <h1 className="sentence">
        {history.entries.length ? "Who changed what, the newest first." : "Nothing has been changed here yet."}
      </h1>
      {history.entries.length > 0 && (
        <div className="mt-3 overflow-x-auto" tabIndex={0} role="region" aria-label="History">
          <table className="grid-table">
            <thead>
              <tr>
                <th scope="col">When, UTC</th>
                <th scope="col">Who</th>
                <th scope="col" className="w-full">
                  What
                </th>
              </tr>
            </thead>
            <tbody>
              {history.entries.map((e) => (
                <tr key={e.id} className="border-b border-hair">
                  <td className="whitespace-nowrap py-1 pr-4">{at(e.atMs)}</td>
                  <td className="whitespace-nowrap py-1 pr-4">{e.by ? <bdi>{e.by}</bdi> : "the owner"}</td>
                  <td className="py-1">
                    <bdi>{e.said}</bdi>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {history.older !== null && (
        <p className="mt-3">
          <Link href={`/experiments/${id}/history?before=${history.older}`}>Older changes</Link>
        </p>
      )}
    </div>
  );
}
