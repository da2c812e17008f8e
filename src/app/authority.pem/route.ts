import { readFile } from "node:fs/promises";
import { answering } from "@/services/web/answering";

export const dynamic = "force-dynamic";

/** The certificate that a phone installs once, so that it trusts this Bravel: public by its nature, no key is in it. */
export const GET = answering(async (_: Request) => {
  const file = process.env.BRAVEL_AUTHORITY;
  if (!file) return new Response("This Bravel does not encrypt: there is no certificate to trust.", { status: 404 });
  return new Response(await readFile(file), {
    headers: {
      "content-type": "application/x-x509-ca-cert",
      "content-disposition": 'attachment; filename="bravel-authority.pem"',
    },
  });
});
