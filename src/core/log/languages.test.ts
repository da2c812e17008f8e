import { sniffLog } from "./sniff";

/** What a log of two collectors calls its columns, and what they are: kind, lane, unit. */
const LOGS: Record<string, [header: string, is: string][]> = {
  German: [
    ["Kollektor 1 Eintritt (°C)", "inlet A °C"],
    ["Kollektor 1 Austritt (°C)", "outlet A °C"],
    ["Kollektor 1 Luftgeschwindigkeit (m/s)", "speed A m/s"],
    ["Kollektor 2 Eintrittstemperatur (°C)", "inlet B °C"],
    ["Kollektor 2 Austrittstemperatur (°C)", "outlet B °C"],
    ["Kollektor 2 Luftgeschwindigkeit (m/s)", "speed B m/s"],
    ["Globalstrahlung (W/m²)", "irradiance - W/m²"],
    ["Außentemperatur (°C)", "ambient - °C"],
    ["Windgeschwindigkeit (m/s)", "wind - m/s"],
  ],
  "German, water": [
    ["Rücklauf K1 (°C)", "inlet A °C"],
    ["Vorlauf K1 (°C)", "outlet A °C"],
    ["Durchfluss K1 (l/min)", "volumeFlow A L/min"],
    ["Rücklauf K2 (°C)", "inlet B °C"],
    ["Vorlauf K2 (°C)", "outlet B °C"],
    ["Volumenstrom K2 (m³/h)", "volumeFlow B m³/h"],
  ],
  French: [
    ["Capteur 1 entrée (°C)", "inlet A °C"],
    ["Capteur 1 sortie (°C)", "outlet A °C"],
    ["Capteur 1 débit (m³/h)", "volumeFlow A m³/h"],
    ["Capteur 2 entrée (°C)", "inlet B °C"],
    ["Capteur 2 sortie (°C)", "outlet B °C"],
    ["Capteur 2 vitesse d'air (m/s)", "speed B m/s"],
    ["Rayonnement (W/m²)", "irradiance - W/m²"],
    ["Température extérieure (°C)", "ambient - °C"],
    ["Ventilateur", "- - -"],
  ],
  Spanish: [
    ["Colector 1 entrada (°C)", "inlet A °C"],
    ["Colector 1 salida (°C)", "outlet A °C"],
    ["Colector 1 caudal (m³/h)", "volumeFlow A m³/h"],
    ["Colector 2 entrada (°C)", "inlet B °C"],
    ["Colector 2 salida (°C)", "outlet B °C"],
    ["Colector 2 velocidad del aire (m/s)", "speed B m/s"],
    ["Radiación (W/m²)", "irradiance - W/m²"],
    ["Temperatura exterior (°C)", "ambient - °C"],
  ],
  Italian: [
    ["Collettore 1 ingresso (°C)", "inlet A °C"],
    ["Collettore 1 uscita (°C)", "outlet A °C"],
    ["Collettore 1 portata (m³/h)", "volumeFlow A m³/h"],
    ["Collettore 2 ingresso (°C)", "inlet B °C"],
    ["Collettore 2 uscita (°C)", "outlet B °C"],
    ["Collettore 2 velocità aria (m/s)", "speed B m/s"],
    ["Irraggiamento (W/m²)", "irradiance - W/m²"],
    ["Temperatura esterna (°C)", "ambient - °C"],
  ],
  Dutch: [
    ["Collector 1 inlaat (°C)", "inlet A °C"],
    ["Collector 1 uitlaat (°C)", "outlet A °C"],
    ["Collector 1 debiet (m³/h)", "volumeFlow A m³/h"],
    ["Collector 2 inlaat (°C)", "inlet B °C"],
    ["Collector 2 uitlaat (°C)", "outlet B °C"],
    ["Collector 2 luchtsnelheid (m/s)", "speed B m/s"],
    ["Instraling (W/m²)", "irradiance - W/m²"],
    ["Buitentemperatuur (°C)", "ambient - °C"],
  ],
  "English, units behind the name": [
    ["Box 1 in F", "inlet A °F"],
    ["Box 1 out F", "outlet A °F"],
    ["Box 1 air fpm", "speed A ft/min"],
    ["Box 2 in F", "inlet B °F"],
    ["Box 2 out F", "outlet B °F"],
    ["Box 2 air fpm", "speed B ft/min"],
    ["Sun W/m2", "irradiance - W/m²"],
    ["Outside F", "ambient - °F"],
  ],
};

test.each(Object.entries(LOGS))("the headers of a log in %s are found", (_, columns) => {
  const rows = Array.from({ length: 30 }, (_, i) =>
    [`2026-10-05 10:${String(i).padStart(2, "0")}:00`, ...columns.map((_, j) => 10 + j + i / 100)].join(";"),
  );
  const read = sniffLog([["Time", ...columns.map(([h]) => h)].join(";"), ...rows].join("\n"), { whole: true });
  if (!read.ok) throw new Error(read.problem.kind);
  expect(
    read.layout.columns
      .slice(1)
      .map(({ header, kind, lane, unit }) => [header, [kind, lane, unit].map((x) => x ?? "-").join(" ")]),
  ).toEqual(columns);
});

test("an outlet that names no lane falls on none beside those that do", () => {
  const rows = Array.from({ length: 30 }, (_, i) => `2026-10-05 10:${String(i).padStart(2, "0")}:00;40;41;42`);
  const read = sniffLog(["Time;Outlet A (°C);Outlet B (°C);Outlet (°C)", ...rows].join("\n"), { whole: true });
  if (!read.ok) throw new Error(read.problem.kind);
  expect(read.layout.columns.map((c) => c.lane)).toEqual([null, "A", "B", null]);
});
