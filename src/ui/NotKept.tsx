/** Why a change is not kept yet, and what becomes of it. @see useChanged */
export const NotKept = ({ error }: { error: string | null }) =>
  error === null ? null : (
    <p role="alert" className="font-semibold text-danger">
      {error} What you entered stands here and is not kept yet; it goes along with your next change.
    </p>
  );
