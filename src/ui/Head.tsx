import type { ReactNode } from "react";

/** The head of a part: its name, what stands small beside it, and what can be done with the whole. */
export function Head({
  id,
  title,
  side,
  status,
  small,
  className = "",
  children,
}: {
  /** What the part is labelled by. */
  id?: string;
  title: ReactNode;
  side?: ReactNode;
  /** What is said aloud as it changes, in place of the words beside. */
  status?: ReactNode;
  /** Of a part within a part. */
  small?: boolean;
  className?: string;
  children?: ReactNode;
}) {
  const Name = small ? "h3" : "h2";
  return (
    <div className={`head ${className}`}>
      <Name id={id}>{title}</Name>
      {side !== undefined && <span className="side">{side}</span>}
      {status !== undefined && (
        <span className="side" role="status">
          {status}
        </span>
      )}
      {children}
    </div>
  );
}
