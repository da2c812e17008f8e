"use client";

interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  autoComplete?: string;
}

/** A passphrase as it is typed; the browser's own store of passphrases knows it as one. */
export const Passphrase = ({ label, value, onChange, autoComplete = "new-password" }: Props) => (
  <label className="text-[13px] font-semibold">
    {label}
    <input
      type="password"
      className="field mt-0.5 block w-64"
      value={value}
      autoComplete={autoComplete}
      maxLength={200}
      required
      onChange={(e) => onChange(e.target.value)}
    />
  </label>
);
