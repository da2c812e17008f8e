import Link from "next/link";

export default function NotFound() {
  return (
    <div className="px-6 py-8">
      <h1 className="sentence">There is nothing at this address.</h1>
      <p className="mt-2">The experiment may have been deleted, or the address mistyped.</p>
      <p className="mt-4">
        <Link className="btn btn-main" href="/">
          Back to the bench
        </Link>
      </p>
    </div>
  );
}
