import { screen } from "@testing-library/react";
import { Toasts } from "@/ui/Toasts";
import { settle, show } from "../../../scripts/testing/screens/screen";
import { OpenPackage } from "./OpenPackage";

const sent = jest.fn();
const answer = (status: number, body: object) => {
  sent.mockReset().mockImplementation(async () => ({ ok: status < 300, json: async () => body }) as Response);
  global.fetch = sent as unknown as typeof fetch;
};
const file = () => new File(["PK"], "experiment.zip", { type: "application/zip" });
async function opened() {
  const { user } = await show(
    <>
      <OpenPackage />
      <Toasts />
    </>,
  );
  await user.upload(screen.getByLabelText("Package of an experiment (zip)"), file());
  await settle();
}

test("an opened package says whether its results were found again", async () => {
  answer(201, { ok: true, experimentId: 8, name: "Absorber shapes", same: true });
  await opened();
  expect(sent.mock.calls[0][0]).toBe("/api/packages");
  expect(await screen.findByText(/the same results as where it comes from, to the last digit/)).toBeInTheDocument();
});

test("results that differ are a warning, a refusal is its sentence, a lost link too", async () => {
  answer(201, { ok: true, experimentId: 8, name: "Absorber shapes", same: false });
  await opened();
  expect(await screen.findByText(/its results differ from those that came along/)).toBeInTheDocument();
  answer(422, { ok: false, error: "This is no package Bravel opens. It is no zip file." });
  const user = (await show(<OpenPackage />)).user;
  const inputs = screen.getAllByLabelText("Package of an experiment (zip)");
  await user.upload(inputs[inputs.length - 1], file());
  await settle();
  expect(screen.getByRole("alert")).toHaveTextContent("It is no zip file.");
  sent.mockImplementation(() => Promise.reject(new Error("no link")));
  await user.upload(inputs[inputs.length - 1], file());
  await settle();
  expect(screen.getByRole("alert")).toHaveTextContent("Bravel did not answer");
});
