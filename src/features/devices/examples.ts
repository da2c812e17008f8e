/** How a device sends, ready to be copied: each is a whole program that Bravel takes as it stands. */
export interface Example {
  name: string;
  text: string;
}

const shell = (address: string, token: string): string => `curl -sS ${address}/api/readings \\
  -H "Authorization: Bearer ${token}" \\
  -H "Content-Type: application/json" \\
  -d '{"time":"'"$(date -u +%Y-%m-%dT%H:%M:%SZ)"'","values":{"A in (°C)":14.2,"A out (°C)":38.6,"A air (m/s)":1.9,"Sun (W/m2)":812}}'`;

const lines = (address: string, token: string): string => `curl -sS "${address}/api/readings?precision=s" \\
  -H "Authorization: Bearer ${token}" \\
  -H "Content-Type: text/plain" \\
  --data-binary "bench,lane=A in=14.2,out=38.6,air=1.9 $(date +%s)"`;

const python = (address: string, token: string): string => `import json, math, os, time, urllib.error, urllib.request

ADDRESS, TOKEN = "${address}/api/readings", "${token}"
KEPT = "waiting.json"  # what is not acknowledged yet, so that neither an outage nor a restart loses it
waiting = json.load(open(KEPT)) if os.path.exists(KEPT) else []

def keep():
    with open(KEPT + ".new", "w") as file:
        json.dump(waiting, file)
    os.replace(KEPT + ".new", KEPT)

def send(values):
    # A lost probe reads NaN: that is no reading. JSON has no word for it.
    known = {name: value for name, value in values.items() if math.isfinite(value)}
    if known:
        waiting.append({"time": int(time.time() * 1000), "values": known})
    keep()
    if not waiting:
        return
    request = urllib.request.Request(
        ADDRESS,
        json.dumps({"frames": waiting[:1000]}).encode(),
        {"Authorization": "Bearer " + TOKEN, "Content-Type": "application/json"},
    )
    try:
        with urllib.request.urlopen(request, timeout=10) as answer:
            for fault in json.load(answer)["rejected"]:
                print("left out:", fault)
            del waiting[:1000]
    except urllib.error.HTTPError as error:
        print("refused:", error.code, error.read().decode())
        if error.code in (400, 413, 415, 422):  # sent again it would be refused again
            del waiting[:1000]
    except OSError as error:  # no network, or Bravel is away: next time
        print("saved for later:", len(waiting), error)
    keep()

def read():  # your probes
    return {"A in (°C)": 14.2, "A out (°C)": 38.6, "A air (m/s)": 1.9}

while True:
    send(read())
    time.sleep(10)`;

const microcontroller = (address: string, token: string): string => `#include <WiFi.h>
#include <HTTPClient.h>
#include <time.h>

const char *ADDRESS = "${address}/api/readings?precision=s";
const char *TOKEN = "Bearer ${token}";
String waiting;  // lines kept until they are acknowledged

// A lost probe reads NaN: that is no reading.
String field(const char *name, float value) {
  return isfinite(value) ? String(",") + name + "=" + value : String("");
}

void setup() {
  WiFi.begin("network", "password");
  while (WiFi.status() != WL_CONNECTED) delay(200);
  configTime(0, 0, "time.server");  // UTC, so that no zone is guessed
  while (time(nullptr) < 1700000000) delay(200);
}

void loop() {
  float in = readProbe(0), out = readProbe(1), air = readMeter();
  String fields = field("in", in) + field("out", out) + field("air", air);
  if (fields.length() > 0 && waiting.length() < 60000)
    waiting += "bench,lane=A " + fields.substring(1) + " " + (unsigned long)time(nullptr) + "\\n";
  if (waiting.length() == 0) return delay(10000);
  HTTPClient http;
  http.begin(ADDRESS);
  http.addHeader("Authorization", TOKEN);
  http.addHeader("Content-Type", "text/plain");
  int status = http.POST(waiting);
  if (status == 200 || status == 422) waiting = "";  // acknowledged; 422: nothing of it can ever be taken
  http.end();
  delay(10000);
}`;

export const sendingExamples = (address: string, token: string): readonly Example[] => [
  { name: "Shell", text: shell(address, token) },
  { name: "Line protocol", text: lines(address, token) },
  { name: "Python", text: python(address, token) },
  { name: "C++ (microcontroller)", text: microcontroller(address, token) },
];
