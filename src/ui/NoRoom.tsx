/** Said beside a draft that the browser could not keep. @see useBrowserDraft */
export const NoRoom = ({ kept }: { kept: boolean }) =>
  kept ? null : (
    <p role="alert" className="font-semibold text-doubt">
      This browser has no room to keep what you type: a reload would lose it.
    </p>
  );
