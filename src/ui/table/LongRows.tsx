"use client";

import { useVirtualizer } from "@tanstack/react-virtual";
import type { ReactNode, RefObject } from "react";

const ROW_PX = 30;

/** Rows of a long table, drawn as they scroll into sight. */
export function LongRows({
  count,
  scroller,
  drawn,
}: {
  count: number;
  scroller: RefObject<HTMLDivElement | null>;
  /** Rows from one place until before another. */
  drawn(from: number, to: number): ReactNode;
}) {
  // The compiler cannot see through the virtualizer; nothing here is kept from one drawing to the next.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 20,
  });
  const items = virtual.getVirtualItems();
  const above = items[0]?.start ?? 0;
  const below = virtual.getTotalSize() - (items.at(-1)?.end ?? 0);
  return (
    <>
      {above > 0 && <Spacer px={above} />}
      {drawn(items[0]?.index ?? 0, (items.at(-1)?.index ?? -1) + 1)}
      {below > 0 && <Spacer px={below} />}
    </>
  );
}

const Spacer = ({ px }: { px: number }) => (
  <tr aria-hidden>
    <td style={{ height: px, padding: 0, border: 0 }} />
  </tr>
);
