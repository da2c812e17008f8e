/** A tool of a figure: its icon, with its words for the pointer and for readers. */
export function IconButton({
  label,
  onClick,
  disabled = false,
  children,
}: {
  label: string;
  disabled?: boolean;
  onClick: () => void;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      title={label}
      aria-label={label}
      className="grid size-7 place-items-center text-action hover:bg-action-wash disabled:opacity-40"
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
