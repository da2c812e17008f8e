/** What screens asked of the server: one mock a server action, by name. Each answers "done" unless told otherwise. */
const mocks = new Map<string, jest.Mock>();
const done = async () => ({ ok: true });

export function action(name: string): jest.Mock {
  let mock = mocks.get(name);
  if (!mock) mocks.set(name, (mock = jest.fn(done)));
  return mock;
}

/** What an action was asked the last time. */
export const asked = (name: string): unknown[] | undefined => action(name).mock.calls.at(-1);

export function forget(): void {
  for (const mock of mocks.values()) mock.mockReset().mockImplementation(done);
}
