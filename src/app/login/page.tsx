import type { Metadata } from "next";

export const metadata: Metadata = { title: "Sign in" };
export const dynamic = "force-dynamic";

/** A plain form: it works before any script has run. */
export default async function LoginPage({
  searchParams,
}: {
  searchParams: Promise<{ to?: string; wrong?: string; wait?: string }>;
}) {
  const { to, wrong, wait } = await searchParams;
  return (
    <div className="max-w-md px-4 py-6 sm:px-6">
      <h1 className="sentence">This Bravel is open to its network by passphrase.</h1>
      {wrong && (
        <p role="alert" className="mt-2 font-semibold text-danger">
          Name and passphrase do not fit each other. Without a name it is the passphrase Bravel was started with.
        </p>
      )}
      {wait && (
        <p role="alert" className="mt-2 font-semibold text-danger">
          Too many attempts. Try again in {wait} s.
        </p>
      )}
      <form action="/api/login" method="post" className="mt-3 flex flex-col gap-2">
        <input type="hidden" name="to" value={to ?? "/"} />
        <label className="text-[13px] font-semibold">
          Name
          <input
            type="text"
            name="name"
            autoComplete="username"
            maxLength={60}
            aria-describedby="nameless"
            className="field mt-0.5 min-h-11"
          />
        </label>
        <p id="nameless" className="side">
          Empty for the owner, by the passphrase Bravel was started with.
        </p>
        <label className="text-[13px] font-semibold">
          Passphrase
          <input
            type="password"
            name="passphrase"
            autoComplete="current-password"
            className="field mt-0.5 min-h-11"
            required
          />
        </label>
        <button className="btn btn-main min-h-11">Sign in</button>
      </form>
    </div>
  );
}
