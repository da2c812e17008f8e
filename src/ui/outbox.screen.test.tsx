import { mayAnswerOtherwise, Outbox } from "./outbox";

const answer = (status: number) => ({ status, ok: status < 300 }) as Response;
/** Takes each entry out of the list once the server has it. */
const settling = (box: Outbox<number>) => async (batch: readonly number[], response: Response) => {
  if (mayAnswerOtherwise(response)) return false;
  box.keep(box.waiting().filter((n) => !batch.includes(n)));
  return true;
};
const oneByOne = (list: readonly number[]) => list.slice(0, 1);

beforeEach(() => localStorage.clear());

const isNumber = (value: unknown) => typeof value === "number";

test("what is put down is sent in order, is there after a reload, and is gone once answered", async () => {
  new Outbox<number>("box", isNumber).put(1);
  new Outbox<number>("box", isNumber).put(2);
  const box = new Outbox<number>("box", isNumber);
  const sent: number[] = [];
  const post = jest.fn(async ([n]: readonly number[]) => {
    sent.push(n);
    return answer(200);
  });
  await Promise.all([box.send(oneByOne, post, settling(box)), box.send(oneByOne, post, settling(box))]);
  expect(sent).toEqual([1, 2]);
  expect(new Outbox("box", isNumber).waiting()).toEqual([]);
});

test.each([[503], [429], [401], [403], [408], [null]])(
  "an answer of %s leaves it waiting, and the next sending begins with it",
  async (status) => {
    const box = new Outbox<number>("box", isNumber);
    box.put(7);
    box.put(8);
    const away = jest.fn(() =>
      status === null ? Promise.reject(new Error("no link")) : Promise.resolve(answer(status)),
    );
    await box.send(oneByOne, away, settling(box));
    expect(away).toHaveBeenCalledTimes(1);
    expect(box.waiting()).toEqual([7, 8]);
    await box.send(oneByOne, async () => answer(200), settling(box));
    expect(box.waiting()).toEqual([]);
  },
);

test("a full store keeps it in the page, a spoilt one begins anew, and the oldest go beyond the most", () => {
  const box = new Outbox<number>("box", isNumber, 3);
  for (const n of [1, 2, 3, 4]) box.put(n);
  expect(box.waiting()).toEqual([2, 3, 4]);
  const full = jest.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
    throw new DOMException("full", "QuotaExceededError");
  });
  const heard = jest.fn();
  const stop = box.onChange(heard);
  box.put(5);
  expect(box.waiting()).toEqual([3, 4, 5]);
  expect(heard).toHaveBeenCalledTimes(1);
  full.mockRestore();
  stop();
  box.put(6);
  expect(heard).toHaveBeenCalledTimes(1);
  expect(new Outbox("box", isNumber).waiting()).toEqual([4, 5, 6]);
  localStorage.setItem("box", "{half");
  expect(new Outbox("box", isNumber).waiting()).toEqual([]);
  localStorage.setItem("box", '[1,null,{"event":null},2]');
  expect(new Outbox("box", isNumber).waiting()).toEqual([1, 2]);
  localStorage.setItem("box", '{"not":"a list"}');
  expect(new Outbox("box", isNumber).waiting()).toEqual([]);
});
