/** A table wider than a phone is moved sideways in its own frame, by finger or arrow keys; the page stays. */
export function Wide({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="overflow-x-auto" tabIndex={0} role="region" aria-label={label}>
      {children}
    </div>
  );
}
