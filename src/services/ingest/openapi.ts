import { LISTED, LONGEST_NAME, MOST_CHANNELS, MOST_FRAMES } from "../../core/ingest/frame";

const answer = (description: string, schema: string) => ({
  description,
  content: { "application/json": { schema: { $ref: `#/components/schemas/${schema}` } } },
});

/** Examples that Bravel takes as they stand: the tests send each. */
export const EXAMPLES = {
  json: {
    frames: [
      { time: "2026-10-06T10:00:00Z", values: { "A in (°C)": 14.2, "A out (°C)": 38.6, "A air (m/s)": 1.9 } },
      { time: "2026-10-06T10:00:10Z", values: { "A in (°C)": 14.2, "A out (°C)": 38.7, "A air (m/s)": null } },
    ],
  },
  one: { time: "2026-10-06T12:00:20+02:00", values: { "Sun (W/m2)": 812 } },
  clockless: { time: "now", values: { "Tank (°C)": 41.5 } },
  lines: "bench,lane=A in=14.2,out=38.6,pulses=1204i 1791288000000000000\nroof sun=812 1791288000000000000\n",
} as const;

const SCHEMAS = {
  Frame: {
    type: "object",
    additionalProperties: false,
    required: ["time", "values"],
    properties: {
      time: {
        oneOf: [
          { type: "string", format: "date-time", description: "ISO 8601 with its offset." },
          { type: "integer", description: "Milliseconds since 1970; seconds with precision “s”." },
          { const: "now", description: "For a device without a clock; what it sends twice is kept twice." },
        ],
      },
      values: {
        type: "object",
        minProperties: 1,
        propertyNames: { minLength: 1, maxLength: LONGEST_NAME },
        additionalProperties: { type: ["number", "null"], description: "null: no reading." },
      },
    },
  },
  Message: {
    oneOf: [
      { $ref: "#/components/schemas/Frame" },
      { type: "array", items: { $ref: "#/components/schemas/Frame" } },
      {
        type: "object",
        additionalProperties: false,
        required: ["frames"],
        properties: {
          frames: { type: "array", maxItems: MOST_FRAMES, items: { $ref: "#/components/schemas/Frame" } },
          precision: { enum: ["ms", "s"], default: "ms" },
        },
      },
    ],
  },
  Kept: {
    type: "object",
    required: ["accepted", "repeated", "second", "held", "rejected", "rejectedCount", "time"],
    properties: {
      accepted: { type: "integer", description: "Frames on disk, those that were there already among them." },
      repeated: { type: "integer" },
      second: {
        type: "integer",
        description:
          "Readings that differ from one that is there for the same instant and channel. The first stands; these are kept beside it and counted under Devices.",
      },
      held: {
        type: "integer",
        description:
          "Frames among those accepted whose time looks like that of a clock that was reset (long ago, in the first month of a year). They are kept apart until somebody says under Devices when they were taken.",
      },
      rejected: {
        type: "array",
        maxItems: LISTED,
        items: {
          type: "object",
          required: ["line", "why"],
          properties: {
            line: { type: "integer", description: "Line or frame, from 1." },
            at: { type: "string", description: "The channel or part at fault." },
            why: { type: "string" },
          },
        },
      },
      rejectedCount: { type: "integer" },
      time: { type: "integer", description: "The server’s clock, ms: a device may set its own by it." },
    },
  },
  Fault: { type: "object", required: ["error"], properties: { error: { type: "string" } } },
} as const;

const POST = {
  summary: "Keep readings",
  description: `Up to ${MOST_FRAMES} frames and 8 MB a message (Content-Encoding: gzip allowed), ${MOST_CHANNELS} channels a device. Good frames are kept, bad ones are listed by line, the first ${LISTED}.`,
  parameters: [
    {
      name: "precision",
      in: "query",
      description: "Of line protocol's times; nanoseconds where it is left out.",
      schema: { enum: ["ns", "us", "ms", "s"] },
    },
  ],
  requestBody: {
    required: true,
    content: {
      "application/json": {
        schema: { $ref: "#/components/schemas/Message" },
        examples: {
          frames: { value: EXAMPLES.json },
          oneFrame: { value: EXAMPLES.one },
          withoutClock: { value: EXAMPLES.clockless },
        },
      },
      "text/plain": {
        schema: {
          type: "string",
          description:
            "Line protocol: measurement[,tag=value…] field=number[,field=number…] time. The channel’s name is measurement, tag values and field, apart by blanks.",
        },
        examples: { lines: { value: EXAMPLES.lines } },
      },
    },
  },
  responses: {
    "200": answer("Kept; what was left out is listed.", "Kept"),
    "400": answer("The body is no JSON, or the precision is none.", "Fault"),
    "401": answer("No token, or one that belongs to no device.", "Fault"),
    "413": answer("Too large; send it in parts.", "Fault"),
    "415": answer("The content type is missing or another one.", "Fault"),
    "422": answer("Nothing of it can be taken; sending it again changes nothing.", "Kept"),
    "429": answer("Too many messages, or too many wrong tokens; wait as Retry-After says.", "Fault"),
    "503": answer("Not kept: disk or database. Send it again later.", "Fault"),
  },
};

const json = (description: string, schema: object) => ({ description, content: { "application/json": { schema } } });
const fault = (description: string) => answer(description, "Fault");
const zip = { "application/zip": { schema: { type: "string", format: "binary" } } };
const ofExperiment = [{ name: "id", in: "path", required: true, schema: { type: "integer", minimum: 1 } }];
const cookie = [{ passphrase: [] }];

/** From files to a ranking without the screen: an experiment goes out and in as a package, results come as JSON. */
const PACKAGE_PATHS = {
  "/api/packages": {
    post: {
      operationId: "openPackage",
      summary: "Opens a package as a new experiment, all of it or nothing",
      description:
        "A zipped Data Package: experiment.json (its JSON Schema is docs/package.schema.json), data/*.csv and, where kept, raw/*. A script writes experiment.json for its files, sends the package and asks for the results.",
      security: cookie,
      requestBody: { required: true, content: zip },
      responses: {
        "201": json("Opened. “same” tells whether the results that came along were found again, to the last digit.", {
          type: "object",
          required: ["ok", "experimentId", "name", "same", "fingerprint"],
          properties: {
            ok: { const: true },
            experimentId: { type: "integer" },
            name: { type: "string" },
            same: { type: ["boolean", "null"] },
            fingerprint: { type: "string" },
          },
        }),
        "413": fault("Larger than 512 MB."),
        "422": fault("No package, or one that is refused: why, and where in it."),
      },
    },
  },
  "/api/experiments/{id}/package": {
    get: {
      operationId: "writePackage",
      summary: "An experiment as a zipped Data Package",
      security: cookie,
      parameters: ofExperiment,
      responses: { "200": { description: "The package.", content: zip }, "404": fault("No such experiment.") },
    },
  },
  "/api/experiments/{id}/results": {
    get: {
      operationId: "results",
      summary: "Verdict, ranking, comparisons, curves with their covariance, doubts",
      security: cookie,
      parameters: ofExperiment,
      responses: {
        "200": json("The results and their fingerprint; figures in SI, each ± at 95 %.", { type: "object" }),
        "404": fault("No such experiment."),
      },
    },
  },
  "/api/experiments/{id}/methods": {
    get: {
      operationId: "methods",
      summary: "What every test method finds in the same readings",
      security: cookie,
      parameters: ofExperiment,
      responses: { "200": json("By method.", { type: "object" }), "404": fault("No such experiment.") },
    },
  },
};

/** The description of what programs may ask, OpenAPI 3.1. */
export const openApi = (address: string) => ({
  openapi: "3.1.0",
  info: {
    title: "Bravel: readings of devices, packages and results",
    version: "1",
    description:
      "A device sends frames: what it measured at one instant, by channel name, in its own units. A frame that was answered with 200 is on disk. Frames are merged by time: sent again they change nothing, a reading that is there is never altered, late and out of order they find their place, so a device keeps what was not acknowledged and sends it again. What channels and units mean is said in Bravel when a run begins.",
  },
  servers: [{ url: address }],
  security: [{ token: [] }],
  paths: { "/api/readings": { post: POST }, ...PACKAGE_PATHS },
  components: {
    securitySchemes: {
      token: { type: "http", scheme: "bearer", description: "Shown once under Devices." },
      passphrase: {
        type: "apiKey",
        in: "cookie",
        name: "bravel-session",
        description: "Only where Bravel is open to a network: the cookie of the sign-in.",
      },
    },
    schemas: SCHEMAS,
  },
});
