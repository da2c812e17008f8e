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

const python = (address: string, token: string): string => `import json, time, urllib.request

ADDRESS, TOKEN = "${address}/api/readings", "${token}"
waiting = []  # kept until they are acknowledged, so that an outage loses nothing

def send(values):
    waiting.append({"time": int(time.time() * 1000), "values": values})
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
    except OSError as error:  # no network, or Bravel is away: next time
        print("kept for later:", len(waiting), error)

while True:
    send({"A in (°C)": 14.2, "A out (°C)": 38.6, "A air (m/s)": 1.9})
    time.sleep(10)`;

const microcontroller = (address: string, token: string): string => `#include <WiFi.h>
#include <HTTPClient.h>
#include <time.h>

const char *ADDRESS = "${address}/api/readings?precision=s";
const char *TOKEN = "Bearer ${token}";
String waiting;  // lines kept until they are acknowledged

void setup() {
  WiFi.begin("network", "password");
  while (WiFi.status() != WL_CONNECTED) delay(200);
  configTime(0, 0, "time.server");  // UTC, so that no zone is guessed
  while (time(nullptr) < 1700000000) delay(200);
}

void loop() {
  float in = readProbe(0), out = readProbe(1), air = readMeter();
  if (waiting.length() < 60000)
    waiting += String("bench,lane=A in=") + in + ",out=" + out + ",air=" + air + " " + (unsigned long)time(nullptr) + "\\n";
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
