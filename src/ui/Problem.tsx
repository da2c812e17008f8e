import type { ReactNode } from "react";

/** What went wrong, said aloud; nothing where nothing did. */
export function Problem({ className = "", children }: { className?: string; children: ReactNode }) {
  if (!children) return null;
  return (
    <p role="alert" className={`font-semibold text-danger ${className}`}>
      {children}
    </p>
  );
}
