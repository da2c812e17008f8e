import { act, screen } from "@testing-library/react";
import { place, router } from "../../scripts/testing/screens/navigation";
import { plain, settle, show } from "../../scripts/testing/screens/screen";
import { TopBar } from "./TopBar";

const dialog = async () => {
  for (let i = 0; i < 20 && !screen.queryByRole("dialog"); i++) await settle();
  return screen.queryByRole("dialog", { name: "Keys" });
};
const tell = (name: string) => act(async () => void window.dispatchEvent(new Event(name)));

describe("the bar on top", () => {
  test.each([
    ["/", "Bench"],
    ["/experiments/3/judge", "Bench"],
    ["/site/2", "Site"],
    ["/materials", "Materials"],
    ["/import", "Import"],
  ])("at %s it marks %s", async (path, name) => {
    place.path = path;
    await show(<TopBar theme="daylight" role="owner" signedIn={false} />);
    expect(screen.getAllByRole("link").filter((l) => l.getAttribute("aria-current") === "page")).toEqual([
      screen.getByRole("link", { name }),
    ]);
  });

  test.each([
    ["b", "/"],
    ["i", "/import"],
    ["m", "/materials"],
    ["s", "/site"],
  ])("key %s goes to %s, and is a letter while something is typed or held", async (key, href) => {
    const { user } = await show(
      <>
        <TopBar theme="daylight" role="owner" signedIn={false} />
        <input aria-label="note" />
      </>,
    );
    await user.type(screen.getByRole("textbox", { name: "note" }), key);
    await user.keyboard(`{Control>}${key}{/Control}`);
    expect(router.push).not.toHaveBeenCalled();
    (document.activeElement as HTMLElement).blur();
    await user.keyboard(key);
    expect(router.push).toHaveBeenCalledWith(href);
  });

  test("the sheet of keys opens with its key, its button and the palette’s word, and closes with Escape", async () => {
    const { user } = await show(<TopBar theme="daylight" role="owner" signedIn={false} />);
    await user.keyboard("?");
    expect(await dialog()).toBeInTheDocument();
    expect(plain(screen.getByRole("dialog"))).toContain("Ctrl K");
    await user.keyboard("{Escape}");
    expect(screen.queryByRole("dialog")).toBeNull();
    await tell("bravel-keys");
    expect(await dialog()).toBeInTheDocument();
  });

  test("evening and daylight change at once, are remembered, and charts hear of it", async () => {
    const heard = jest.fn();
    window.addEventListener("bravel-theme", heard);
    const { user } = await show(<TopBar theme="daylight" role="owner" signedIn={false} />);
    await user.click(screen.getByRole("button", { name: "Evening" }));
    expect(document.documentElement.dataset.theme).toBe("evening");
    expect(document.cookie).toContain("bravel-theme=evening");
    expect(heard).toHaveBeenCalledTimes(1);
    await tell("bravel-toggle-theme");
    expect(document.documentElement.dataset.theme).toBe("daylight");
    window.removeEventListener("bravel-theme", heard);
  });

  test("units are remembered for the server, which draws the page anew", async () => {
    const { user } = await show(<TopBar theme="daylight" role="owner" signedIn={false} />, "metric");
    await user.click(screen.getByRole("button", { name: /Units: metric/ }));
    expect(document.cookie).toContain("bravel-units=us");
    expect(router.refresh).toHaveBeenCalled();
  });

  test("whoever does not work here gets no way to other pages, and no key goes there", async () => {
    const { user } = await show(<TopBar theme="daylight" role={null} signedIn />);
    expect(screen.queryAllByRole("link")).toEqual([]);
    expect(screen.queryByRole("button", { name: /Tools|Go to/ })).toBeNull();
    await user.keyboard("bims");
    expect(router.push).not.toHaveBeenCalled();
  });

  test("a bench hand gets the account, and no way to the network’s page", async () => {
    await show(<TopBar theme="daylight" role="hand" signedIn />);
    expect(screen.getByRole("link", { name: "Account" })).toHaveAttribute("href", "/account");
    expect(screen.getByRole("link", { name: "Devices" })).toBeVisible();
    expect(screen.queryByRole("link", { name: "Network" })).toBeNull();
  });
});
