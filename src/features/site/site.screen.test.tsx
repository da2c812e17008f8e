import { createEvent, fireEvent, screen, within } from "@testing-library/react";
import { standardPressure } from "@/core/fluids/moistAir";
import { CLIMATES } from "@/core/site/climates";
import type { Site } from "@/core/experiment/types";
import { MONTH_NAMES } from "@/words/plan";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { router } from "../../../scripts/testing/screens/navigation";
import { sunWorker } from "../../../scripts/testing/screens/sun";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { NOW, site as sitePage } from "../../../scripts/testing/screens/pages";
import { ByMonth } from "./ByMonth";
import { ClimatePanel } from "./ClimatePanel";
import { NewSite } from "./NewSite";
import { Obstacles } from "./Obstacles";
import { SitePage } from "./SitePage";
import { Skyline } from "./Skyline";

const field = (name: string | RegExp) => screen.getByRole("textbox", { name });
const put = async (user: Awaited<ReturnType<typeof show>>["user"], name: string | RegExp, text: string) => {
  await user.clear(field(name));
  await user.type(field(name), `${text}{Enter}`);
};
const page = async (over: Partial<Site> = {}) => {
  const data = sitePage();
  const site = { ...data.site, ...over };
  const shown = await show(<SitePage {...data} site={site} zones={["Europe/Zurich"]} nowMs={NOW} />);
  return { ...shown, site };
};
const kept = () => asked("keepSite") as [number, Site];

describe("a place", () => {
  test("says what is not known about it yet", async () => {
    const { site, unmount } = await page();
    expect(plain(screen.getByRole("heading", { level: 1 }))).toBe(`${site.name}.`);
    unmount();
    await page({ detail: { ...site.detail, horizon: [], climate: null } });
    expect(plain(screen.getByRole("heading", { level: 1 }))).toBe(
      `${site.name}, with a free horizon, without a climate yet.`,
    );
  });

  test.each([
    ["46.5 N, 9.1 E", 46.5, 9.1],
    ["46°30'N 9°6'E", 46.5, 9.1],
    ["46,5; 9,1", 46.5, 9.1],
  ])("coordinates as %s", async (text, latitude, longitude) => {
    const { user } = await page();
    await put(user, "Coordinates", text);
    expect(kept()[1].latitude).toBeCloseTo(latitude, 6);
    expect(kept()[1].longitude).toBeCloseTo(longitude, 6);
  });

  test("exchanged coordinates are asked about, not guessed and not kept", async () => {
    const { user } = await page();
    await put(user, "Coordinates", "8.3, 47.2");
    await put(user, "Coordinates", "9.2, 46.5");
    expect(action("keepSite")).not.toHaveBeenCalled();
    expect(screen.getByRole("alert")).toHaveTextContent(/lies far from the clock/);
    await user.click(screen.getByRole("button", { name: "Exchange them" }));
    expect(kept()[1]).toMatchObject({ latitude: 46.5, longitude: 9.2 });
  });

  test.each(["north of the barn", "95, 9", "46.3"])("“%s” is no place, and is refused", async (text) => {
    const { user } = await page();
    await put(user, "Coordinates", text);
    expect(screen.getByRole("alert")).toBeInTheDocument();
    expect(action("keepSite")).not.toHaveBeenCalled();
  });

  test("air pressure follows the altitude until it is typed", async () => {
    const { user, site } = await page();
    const shown = Number.parseFloat((field("Air pressure") as HTMLInputElement).value.replace(/\s/g, ""));
    expect([shown, shown * 100, shown * 1000]).toContainEqual(expect.closeTo(standardPressure(site.altitudeM), -2));
    expect(plain(document.body)).toContain("from the altitude");
    await put(user, "Air pressure", "880 hPa");
    expect(kept()[1].detail.pressurePa).toBeCloseTo(88000, 3);
    expect(plain(document.body)).toContain("altitude alone");
  });

  test("a zone nobody knows is refused with two that are; a fixed offset is one", async () => {
    const { user } = await page();
    const zone = screen.getByRole("combobox", { name: /Time zone/ });
    await user.clear(zone);
    await user.type(zone, "Mars/Olympus{Enter}");
    expect(screen.getByRole("alert")).toHaveTextContent(/Europe\/Zurich, or UTC\+01:00/);
    expect(action("keepSite")).not.toHaveBeenCalled();
    await user.clear(zone);
    await user.type(zone, "UTC+01:00{Enter}");
    expect(kept()[1].zone).toBe("UTC+01:00");
  });

  test("a refusal leaves what was typed on the screen and says it is not kept", async () => {
    action("keepSite").mockImplementation(async () => ({ ok: false, error: "The database is away." }));
    const { user } = await page();
    await put(user, "Altitude", "900 m");
    await settle();
    expect(screen.getByRole("alert")).toHaveTextContent(
      "The database is away. What you entered stands here and is not kept yet",
    );
    expect((field("Altitude") as HTMLInputElement).value).toMatch(/^900/);
  });

  test("what the server holds newer replaces what is shown", async () => {
    const data = sitePage();
    const props = { ...data, zones: [], nowMs: NOW };
    const { again } = await show(<SitePage {...props} />);
    again(<SitePage {...props} site={{ ...data.site, altitudeM: 777 }} />);
    expect((field("Altitude") as HTMLInputElement).value).toMatch(/^777/);
  });
});

describe("the sun over it", () => {
  test("a worker that stopped is said, and no other year's figures are shown instead", async () => {
    const year = jest.spyOn(sunWorker(), "year").mockImplementation(async () => {
      throw new Error("stopped");
    });
    await page();
    expect(await screen.findByText(/worker stopped. Reload the page/)).toBeInTheDocument();
    expect(screen.queryByText("Working out the year …")).toBeNull();
    year.mockRestore();
  });

  test("the best tilt of a winter in the north is steep, faces south, and can be taken", async () => {
    const { user } = await page();
    for (let i = 0; i < 30 && !screen.queryByTestId("best-tilt"); i++) await settle();
    const best = Number(/^(\d+)°/.exec(plain(screen.getByTestId("best-tilt")))![1]);
    expect(best).toBeGreaterThan(50);
    expect(best).toBeLessThan(80);
    await user.click(screen.getByRole("button", { name: "Take it" }));
    expect((field("Tilt") as HTMLInputElement).value).toMatch(new RegExp(`^${best}`));
    expect((field("Faces") as HTMLInputElement).value).toMatch(/^180/);
  }, 20000);

  test("south of the equator the seasons and the plane turn round", async () => {
    await page({ latitude: -33.5, longitude: 18.4, zone: "Africa/Johannesburg" });
    expect((field("Faces") as HTMLInputElement).value).toMatch(/^0/);
    expect(screen.getByRole("option", { name: "winter, May to August" })).toBeInTheDocument();
  });
});

describe("skyline", () => {
  const place = { latitude: 46.31, longitude: 9.05 };
  const showSkyline = async () => {
    const changed = jest.fn();
    const { horizon } = sitePage().site.detail;
    const shown = await show(<Skyline horizon={horizon} zone="Europe/Zurich" place={place} onChange={changed} />);
    return { ...shown, changed, horizon };
  };
  const corners = () => screen.getByRole("textbox", { name: "Corners" });
  const type = (text: string) => {
    fireEvent.change(corners(), { target: { value: text } });
    fireEvent.blur(corners());
  };

  test("two columns from a table become corners in order of direction", async () => {
    const { changed } = await showSkyline();
    type("250\t11\n90\t12,5\n180 3");
    expect(changed).toHaveBeenCalledWith([
      { azimuth: 90, altitude: 12.5 },
      { azimuth: 180, altitude: 3 },
      { azimuth: 250, altitude: 11 },
    ]);
  });

  test.each([["90 hill"], ["400 5"], ["90 95"], ["90"]])(
    "“%s” is refused, and stays in the field to be mended",
    async (text) => {
      const { changed } = await showSkyline();
      type(text);
      expect(screen.getByRole("alert")).toHaveTextContent(/Nothing was lost/);
      expect(corners()).toHaveValue(text);
      expect(changed).not.toHaveBeenCalled();
    },
  );

  test("an empty field is a free horizon", async () => {
    const { changed } = await showSkyline();
    type("");
    expect(changed).toHaveBeenCalledWith([]);
  });

  test("its drawing is named for those who do not see it", async () => {
    const { horizon } = await showSkyline();
    const top = Math.round(Math.max(...horizon.map((p) => p.altitude)));
    expect(
      screen.getByRole("img", { name: `Skyline with ${horizon.length} corners, highest ${top} degrees` }),
    ).toBeInTheDocument();
  });
});

describe("near obstacles", () => {
  const showObstacles = async () => {
    const changed = jest.fn();
    const { obstacles } = sitePage().site.detail;
    const shown = await show(<Obstacles obstacles={obstacles} azimuth={180} onChange={changed} />);
    return { ...shown, changed, obstacles };
  };

  test("each can be changed alone", async () => {
    const { user, changed, obstacles } = await showObstacles();
    const item = screen.getByRole("listitem", { name: "Pear tree" });
    const top = within(item).getByRole("textbox", { name: "Top" });
    await user.clear(top);
    await user.type(top, "9 m{Enter}");
    expect(changed).toHaveBeenCalledWith(obstacles.map((o) => (o.name === "Pear tree" ? { ...o, topM: 9 } : o)));
  });

  test("a second tree gets a name of its own, one is taken away by its button", async () => {
    const { user, changed, obstacles } = await showObstacles();
    await user.click(screen.getByRole("button", { name: /Add a wall/ }));
    expect(changed.mock.calls[0][0].at(-1)).toMatchObject({ kind: "wall", name: "Wall" });
    await user.click(
      within(screen.getByRole("listitem", { name: "Pear tree" })).getByRole("button", { name: "Remove" }),
    );
    expect(changed.mock.calls[1][0]).toEqual(obstacles.filter((o) => o.name !== "Pear tree"));
  });

  test("what cannot stand is said", async () => {
    const { obstacles } = sitePage().site.detail;
    const tree = obstacles.find((o) => o.kind === "tree")!;
    await show(<Obstacles obstacles={[{ ...tree, bottomM: 9, topM: 4 }]} azimuth={180} onChange={() => undefined} />);
    expect(screen.getAllByRole("alert").length).toBeGreaterThan(0);
  });

  test("the plan from above names every thing with its distance and direction", async () => {
    const { obstacles } = await showObstacles();
    const name = screen.getByRole("img").getAttribute("aria-label")!;
    for (const o of obstacles) expect(name).toContain(`${o.name} ${o.distanceM} m away at ${o.bearing} degrees`);
  });
});

describe("month by month", () => {
  const showMonths = async () => {
    const changed = jest.fn();
    const { site } = sitePage();
    const shown = await show(<ByMonth site={site} climate={CLIMATES[0]} onChange={changed} />);
    return { ...shown, changed, site };
  };

  test("twelve months with both editable columns and the climate beside them", async () => {
    await showMonths();
    expect(screen.getAllByRole("row")).toHaveLength(13);
    for (const name of MONTH_NAMES) expect(field(`Turbidity in ${name}`)).toBeInTheDocument();
  });

  test("a pasted column fills from where it is pasted, and never past December", async () => {
    const { changed, site } = await showMonths();
    const cell = field(`Turbidity in ${MONTH_NAMES[10]}`);
    const paste = createEvent.paste(cell, { clipboardData: { getData: () => "2,1\n2.5\n9.9" } });
    fireEvent(cell, paste);
    const turbidity = [...site.detail.turbidity];
    turbidity[10] = 2.1;
    turbidity[11] = 2.5;
    expect(changed).toHaveBeenCalledWith({ turbidity });
  });

  test.each(["0", "11", "hazy", ""])("a turbidity of “%s” is refused at its cell", async (text) => {
    const { changed } = await showMonths();
    const cell = field(`Turbidity in ${MONTH_NAMES[0]}`);
    fireEvent.change(cell, { target: { value: text } });
    fireEvent.blur(cell);
    expect(screen.getByRole("alert")).toHaveTextContent("From 1 to 10.");
    expect(changed).not.toHaveBeenCalled();
  });
});

describe("climate", () => {
  const upload = async (name: string, text: string) => {
    const { site, climates } = sitePage();
    const shown = await show(<ClimatePanel site={site} climate={null} own={climates} onChoose={() => undefined} />);
    const file = new File([text], name);
    Object.defineProperty(file, "text", { value: async () => text });
    fireEvent.change(screen.getByLabelText("EPW file or monthly CSV"), { target: { files: [file] } });
    await settle();
    await settle();
    return shown;
  };

  test("a chosen one is sent by its kind; none is none", async () => {
    const { site } = sitePage();
    const chosen = jest.fn();
    const { user } = await show(<ClimatePanel site={site} climate={null} own={[]} onChoose={chosen} />);
    await user.selectOptions(screen.getByRole("combobox", { name: "Climate" }), CLIMATES.at(-1)!.name);
    expect(chosen).toHaveBeenCalledWith({ kind: "shipped", name: CLIMATES.at(-1)!.name });
    await user.selectOptions(screen.getByRole("combobox", { name: "Climate" }), "none");
    expect(chosen).toHaveBeenLastCalledWith(null);
  });

  test("twelve months go to the server under the file’s name", async () => {
    await upload("valley.csv", "month,global\n1,1.2\n");
    expect(asked("keepClimateCsv")).toEqual([sitePage().site.id, "valley", "month,global\n1,1.2\n"]);
  });

  test("an hourly file cut off is refused here, and never reaches the server", async () => {
    global.fetch = jest.fn() as unknown as typeof fetch;
    await upload("valley.epw", "LOCATION,Hill,-,-,-,-,46.3,9.0,1.0,1100\nDESIGN CONDITIONS,0\n");
    expect(screen.getByRole("alert")).toHaveTextContent(/^valley\.epw:/);
    expect(global.fetch).not.toHaveBeenCalled();
    expect(action("keepEpw")).not.toHaveBeenCalled();
  });

  test("what the server says is wrong with a table is shown with its name", async () => {
    action("keepClimateCsv").mockImplementation(async () => ({ ok: false, error: "July is missing." }));
    await upload("valley.csv", "month,global\n1,1.2\n");
    expect(screen.getByRole("alert")).toHaveTextContent("valley.csv: July is missing. Nothing was kept.");
  });

  test("an own file of a far place carries its warning", async () => {
    const { site } = sitePage();
    const far = {
      ...CLIMATES[0],
      id: 5,
      name: "Far coast",
      kind: "epw",
      licence: "as stated",
      place: { latitude: 60, longitude: 20, altitudeM: 3, hours: 8760 },
    };
    const chosen = { ...site, detail: { ...site.detail, climate: { kind: "own" as const, id: 5 } } };
    await show(<ClimatePanel site={chosen} climate={far as never} own={[far as never]} onChoose={() => undefined} />);
    expect(plain(document.body)).toMatch(/of a place 1\s?\d{3} km away, 3 m high/);
  });
});

describe("a new site", () => {
  test("needs a name, and goes to the page of what the server made", async () => {
    action("startSite").mockImplementation(async () => ({ ok: true, id: 4 }));
    const { user } = await show(<NewSite zones={[]} />);
    expect(screen.getByRole("button", { name: "Keep this site" })).toBeDisabled();
    await user.type(field("Site’s name"), "Valley yard");
    expect(screen.getByText(/Say of the new site: its coordinates, its altitude, its time zone/)).toBeVisible();
    await put(user, "Coordinates", "46.1, 8.9");
    await put(user, "Altitude", "300 m");
    await user.type(screen.getByRole("combobox", { name: "Time zone" }), "Europe/Zurich");
    await user.click(screen.getByRole("button", { name: "Keep this site" }));
    await settle();
    expect(asked("startSite")![0]).toMatchObject({ name: "Valley yard", latitude: 46.1, longitude: 8.9 });
    expect(router.push).toHaveBeenCalledWith("/site/4");
  });
});
