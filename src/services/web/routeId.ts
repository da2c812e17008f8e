/** A row's number in an address; null for what is none. */
export const routeId = (text: string): number | null =>
  /^\d{1,9}$/.test(text) && Number(text) > 0 ? Number(text) : null;

/** What an address that names nothing is answered with: that is another fault than naming what is gone. */
export const malformed = (what: string): Response =>
  Response.json({ error: `${what} is not named by a number. Follow a link of Bravel instead.` }, { status: 400 });
