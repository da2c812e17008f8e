import { seededRandom } from "../../src/core/random/seededRandom";
import { clearSky, erbsDiffuseFraction } from "../../src/core/sun/clearSky";
import { extraterrestrialNormal, sunPosition } from "../../src/core/sun/position";
import { clearDayKwh } from "../../src/core/site/climate";
import { CLIMATES } from "../../src/core/site/climates";
import { EPW_FIELDS, EPW_HEADINGS, type EpwField, type EpwFile } from "../../src/core/site/epw";

const HOUR = 3600000;

/**
 * A whole invented typical-weather year for the demo's hill: clear, broken and dull days dealt from a seed so that each month comes
 * near its climate's irradiation. For tests and demonstrations; no measured weather is in it.
 */
export function inventedEpw(seed = 46): EpwFile {
  const climate = CLIMATES[0];
  const place = { latitude: 46.31, longitude: 9.05, altitudeM: 1120 };
  const random = seededRandom(seed);
  const n = 8760;
  const series = Object.fromEntries(
    EPW_FIELDS.filter(([name]) => name !== "presentWeatherCodes").map(([name]) => [
      name,
      new Float64Array(n).fill(NaN),
    ]),
  ) as EpwFile["series"];
  const stamps = {
    year: new Int16Array(n),
    month: new Uint8Array(n),
    day: new Uint8Array(n),
    hour: new Uint8Array(n),
    minute: new Uint8Array(n),
  };
  const start = Date.UTC(2025, 0, 1) - HOUR;
  let day = -1;
  let share = 1;
  for (let i = 0; i < n; i++) {
    const local = new Date(start + HOUR + i * HOUR);
    const month = local.getUTCMonth();
    if (Math.floor(i / 24) !== day) {
      day = Math.floor(i / 24);
      // A clear or a dull day, so that the month's mean comes out near its climate's.
      const wanted = climate.months[month].globalKwhM2 / Math.max(0.05, clearDayKwh(start + day * 24 * HOUR, place, 3));
      share = random.uniform() < (wanted - 0.3) / 0.68 ? 0.98 : 0.3;
    }
    stamps.year[i] = 2025;
    stamps.month[i] = month + 1;
    stamps.day[i] = local.getUTCDate();
    stamps.hour[i] = local.getUTCHours() + 1;
    stamps.minute[i] = 0;
    const middle = start + i * HOUR + HOUR / 2;
    const sun = sunPosition(middle, place);
    const up = Math.max(0, Math.sin((sun.altitude * Math.PI) / 180));
    const outside = extraterrestrialNormal(middle);
    const global = Math.round(clearSky(middle, place, 3, sun).global * share);
    const diffuse = up > 0 ? Math.round(global * erbsDiffuseFraction(global / Math.max(1, outside * up))) : 0;
    const put = (name: Exclude<EpwField, "presentWeatherCodes">, value: number) => {
      series[name][i] = value;
    };
    put("extraterrestrialHorizontal", Math.round(outside * up));
    put("extraterrestrialNormal", up > 0 ? Math.round(outside) : 0);
    put("globalHorizontal", global);
    put("diffuseHorizontal", diffuse);
    put("directNormal", up > 0.02 ? Math.min(1100, Math.round((global - diffuse) / up)) : 0);
    put(
      "dryBulbC",
      Math.round(
        10 * (climate.months[month].meanC + 4 * Math.sin(((local.getUTCHours() - 9) / 12) * Math.PI) + random.normal()),
      ) / 10 || 0,
    );
    put("relativeHumidity", Math.round(60 + 15 * random.uniform()));
    put("pressurePa", 88600);
    put("windSpeed", Math.round(10 * Math.max(0.2, (climate.months[month].windMs ?? 2) + 0.8 * random.normal())) / 10);
    put("windDirection", Math.round(360 * random.uniform()) % 360);
    put("totalSkyCover", share > 0.9 ? 1 : 9);
    put("presentWeatherObservation", 9);
  }
  const headings = Object.fromEntries(EPW_HEADINGS.slice(1).map((h) => [h, ""])) as EpwFile["headings"];
  headings["COMMENTS 1"] = "Invented for Bravel from a seed";
  headings["DATA PERIODS"] = "1,1,Data,Wednesday,1/1,12/31";
  headings["HOLIDAYS/DAYLIGHT SAVINGS"] = "No,0,0,0";
  return {
    city: "Tansy Ridge",
    region: "-",
    country: "INV",
    dataSource: "invented",
    stationNumber: "000000",
    ...place,
    timeZoneH: 1,
    headings,
    stamps,
    flags: Array<string>(n).fill("?9?9?9?9E0?9?9?9?9?9?9?9?9?9?9?9?9?9?9?9*9*9?9?9?9"),
    series,
    weatherCodes: Array<string>(n).fill("999999999"),
    fieldsPerRecord: EPW_FIELDS.length,
  };
}

/** Writes the file again: numbers as short as they are exact, missing ones by their markers. Parsing it gives the same file. */
export function writeEpw(file: EpwFile): string {
  const heading = [
    [
      "LOCATION",
      file.city,
      file.region,
      file.country,
      file.dataSource,
      file.stationNumber,
      file.latitude,
      file.longitude,
      file.timeZoneH,
      file.altitudeM,
    ].join(","),
  ];
  for (const h of EPW_HEADINGS.slice(1) as (keyof EpwFile["headings"])[]) heading.push(`${h},${file.headings[h]}`);
  const { stamps } = file;
  const rows = file.flags.map((flag, i) => {
    const cells = EPW_FIELDS.slice(0, file.fieldsPerRecord).map(([name, missing]) => {
      if (name === "presentWeatherCodes") return file.weatherCodes[i];
      const v = file.series[name][i];
      return Number.isNaN(v) ? missing : v;
    });
    return [stamps.year[i], stamps.month[i], stamps.day[i], stamps.hour[i], stamps.minute[i], flag, ...cells].join(",");
  });
  return [...heading, ...rows].join("\r\n") + "\r\n";
}
