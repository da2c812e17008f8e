import type { ChannelKind } from "../../core/log/channel";
import type { LogData } from "../../core/log/logData";
import { ImportRefused } from "./importRequest";

/** A second file may go on where the first ended; over the same hours one channel stands for one thing. */
const MOST_SHARED = 0.2;

/** @throws ImportRefused for two files that measured one thing over the same hours */
export function refuseTwice(files: readonly { data: LogData; file: { name: string } }[]): void {
  const seen: { kind: ChannelKind; lane: string | null; at: number }[] = [];
  files.forEach(({ data, file }, at) => {
    for (const { kind, lane } of data.channels.map((c) => c.use)) {
      if (!kind) continue;
      for (const other of seen.filter((s) => s.at !== at && s.kind === kind && s.lane === lane)) {
        const [a, b] = [files[other.at].data.times, data.times];
        const shared = Math.min(a[a.length - 1], b[b.length - 1]) - Math.max(a[0], b[0]);
        if (shared > MOST_SHARED * Math.min(a[a.length - 1] - a[0], b[b.length - 1] - b[0]))
          throw new ImportRefused({
            kind: "channelTwice",
            channel: kind,
            lane,
            files: [files[other.at].file.name, file.name],
          });
      }
      seen.push({ kind, lane, at });
    }
  });
}
