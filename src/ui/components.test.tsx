import { hingedMirror } from "@/core/mirror/mirror";
import { renderToStaticMarkup } from "react-dom/server";
import { ABSORBER_FORMS } from "@/core/collector/form/list";
import { withCovers } from "@/core/collector/outline";
import { presetDesign } from "@/core/collector/presets";
import { Badge, badgeWords } from "./Badge";
import { FigureText } from "./FigureText";
import { Formula } from "./Formula";
import { Interval } from "./Interval";
import { LaneMark } from "./LaneMark";
import { PreferencesProvider } from "./preferences";
import { depthToPx, layoutSection } from "./section/layout";
import { PLAIN_SITE } from "@/core/site/site";
import { SunStrip } from "./SunStrip";

const html = (node: React.ReactElement) => renderToStaticMarkup(node);

describe("badges", () => {
  const box = presetDesign("flat");
  test("every absorber and glazing draws, without a broken number, and says in words what it shows", () => {
    const seen = new Set<string>();
    for (const form of ABSORBER_FORMS) {
      for (const covers of [0, 1, 2]) {
        for (const mirrors of [[], [hingedMirror()]]) {
          const base = presetDesign(form);
          const svg = html(<Badge design={{ ...base, layers: withCovers(base.layers, covers), mirrors }} lane="B" />);
          expect(svg).toContain('role="img"');
          expect(svg).not.toMatch(/NaN|Infinity|undefined/);
          seen.add(svg);
        }
      }
    }
    expect(seen.size).toBe(ABSORBER_FORMS.length * 3 * 2);
  });
  test("a half-typed design still draws: no layers, absurd sizes, forty layers", () => {
    const wool = box.layers.find((l) => l.kind === "insulation")!;
    for (const layers of [
      [],
      [{ ...wool, thicknessM: Number.NaN }],
      Array.from({ length: 40 }, (_, i) => ({ ...wool, id: String(i), thicknessM: i % 2 ? 1e6 : 0 })),
    ]) {
      expect(html(<Badge design={{ ...box, layers }} lane="A" />)).not.toMatch(/NaN|Infinity/);
    }
  });
  test("the absorber carries the lane's colour, all else is ink; water has no arrow", () => {
    expect(html(<Badge design={box} lane="C" />)).toContain("var(--lane-c)");
    const water = html(<Badge design={presetDesign("tubeSheet")} lane="C" />);
    expect(water).not.toMatch(/L[\d. -]+L[\d. -]+Z/);
    expect(html(<Badge design={box} lane="C" />)).toMatch(/L[\d. -]+L[\d. -]+Z/);
    const mesh = presetDesign("mesh");
    expect(
      badgeWords({
        ...mesh,
        layers: withCovers(mesh.layers, 2),
        mirrors: [hingedMirror({ material: "aluminium-bright", stand: "bottom", depthM: 1, angle: 110 })],
      }),
    ).toBe("mesh layers, air through, 2 glazings, bottom mirror");
  });
  test("depths are to scale where they can be seen, and layers meet without gaps", () => {
    const layout = layoutSection(box, 300, "large");
    expect(layout.height).toBeCloseTo(300, 3);
    layout.slabs.slice(1).forEach((s, i) => expect(s.y0).toBeCloseTo(layout.slabs[i].y1, 9));
    const wool = layout.slabs.find((s) => s.layer.kind === "insulation")!;
    expect(wool.y1 - wool.y0).toBeCloseTo(0.05 * layout.pxPerM, 3);
    expect(depthToPx(layout, (wool.fromM + wool.toM) / 2)).toBeCloseTo((wool.y0 + wool.y1) / 2, 3);
  });
});

describe("figures and formulas", () => {
  test("value heavy, ± and unit lighter, in the units chosen", () => {
    const figure = { si: 20, expanded: 0.5, quantity: "temperature" as const };
    expect(html(<FigureText figure={figure} />)).toMatch(/<b[^>]*>20\.0<\/b>.*±.*0\.5.*°C/);
    expect(
      html(
        <PreferencesProvider system="us">
          <FigureText figure={figure} />
        </PreferencesProvider>,
      ),
    ).toMatch(/68\.0.*°F/);
    expect(html(<FigureText figure={{ ...figure, expanded: null }} />)).not.toContain("±");
  });
  test("symbols are italic with subscripts, words and numbers upright", () => {
    const text = html(<Formula text="Δq = mean of (q_{A,w} − 2·a_1) over shared windows" />);
    expect(text).toContain('<i class="sym">Δq</i>');
    expect(text).toContain('<i class="sym">q<sub>A,w</sub></i>');
    expect(text).toContain('<i class="sym">a<sub>1</sub></i>');
    expect(text).toMatch(/ mean of /);
    expect(html(<Formula text="T_{in}" />)).toBe('<span><i class="sym">T<sub>in</sub></i></span>');
  });
  test("a lane is letter, shape and colour together", () => {
    expect(html(<LaneMark lane="D" />)).toMatch(/var\(--lane-d\).*D/);
  });
  test("an interval beyond its scale stays inside the picture", () => {
    const svg = html(<Interval value={50} half={500} min={0} max={100} step={20} zero neutral={10} width={160} />);
    const numbers = [...svg.matchAll(/M(-?[\d.]+) /g)].map((m) => Number(m[1]));
    for (const x of numbers) {
      expect(x).toBeGreaterThanOrEqual(0);
      expect(x).toBeLessThanOrEqual(160);
    }
  });
});

describe("the sun strip", () => {
  const strip = (latitude: number, month: number, zone: string, azimuth = 180) =>
    html(
      <SunStrip
        site={{ latitude, longitude: 9, altitudeM: 300, zone, detail: PLAIN_SITE }}
        plane={{ tilt: 50, azimuth }}
        atMs={Date.UTC(2026, month, 21, 11)}
        now
      />,
    );
  test("says the usable window and the clear sky's best in words", () => {
    expect(strip(46.3, 9, "Europe/Zurich")).toMatch(
      /Usable from \d\d:\d\d to \d\d:\d\d; clear sky gives at most \d{3,4} watts/,
    );
  });
  test("a polar night has no window and still draws", () => {
    const svg = strip(78, 11, "Arctic/Longyearbyen");
    expect(svg).toContain("the sun does not rise");
    expect(svg).not.toContain("NaN");
  });
  test("south of the equator a north-facing plane has its window", () => {
    expect(strip(-33, 5, "Africa/Johannesburg", 0)).toContain("Usable from");
  });
  test("the day on which clocks change is drawn without a break", () => {
    const svg = html(
      <SunStrip
        site={{ latitude: 46.3, longitude: 9, altitudeM: 300, zone: "Europe/Zurich", detail: PLAIN_SITE }}
        plane={{ tilt: 50, azimuth: 180 }}
        atMs={Date.UTC(2026, 9, 25, 11)}
        now={false}
        windows={[{ startMs: Date.UTC(2026, 9, 25, 11), endMs: Date.UTC(2026, 9, 25, 11, 15) }]}
        recorded={[
          { ms: Date.UTC(2026, 9, 25, 9), wm2: 500 },
          { ms: Date.UTC(2026, 9, 25, 10), wm2: 700 },
        ]}
      />,
    );
    expect(svg).toContain("1 steady windows used");
    expect(svg).not.toContain("NaN");
  });
});
