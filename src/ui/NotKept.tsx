/**
 * Why a change is not kept yet, and what becomes of it; while it is on its way, that it is.
 * @see useChanged
 */
export const NotKept = ({ error, busy }: { error: string | null; busy?: boolean }) => (
  <>
    <p role="status" className="side h-0 text-right">
      {busy ? "Keeping …" : ""}
    </p>
    {error !== null && (
      <p role="alert" className="font-semibold text-danger">
        {error} What you entered stands here and is not kept yet; it goes along with your next change.
      </p>
    )}
  </>
);
