/** A tool of a figure: its icon, with its words for the pointer and for readers. */
export function IconButton({
  label,
  onClick,
  children,
}: {
  label: string;
  onClick: () => void;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      title={label}
      aria-label={label}
      className="grid size-7 place-items-center text-action hover:bg-action-wash"
      onClick={onClick}
    >
      {children}
    </button>
  );
}
