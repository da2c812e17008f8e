import { directionOf } from "./direction";

test.each([
  ["South", 180],
  ["south-west", 225],
  ["South West", 225],
  ["N", 0],
  ["E", 90],
  ["SSE", 157.5],
  ["NNW", 337.5],
  ["north", 0],
  ["NW", 315],
  ["Süd", 180],
  ["Südost", 135],
  ["Nordwest", 315],
  ["sud-ouest", 225],
  ["sudest", 135],
  ["noroeste", 315],
  ["sur", 180],
  ["zuidwest", 225],
  ["  west ", 270],
])("%s is %s°", (text, degrees) => expect(directionOf(text)).toBe(degrees));

test.each(["", "180", "north-south", "east west", "southern", "ssss", "o", "so", "x".repeat(500), "south of the shed"])(
  "“%s” is no direction",
  (text) => expect(directionOf(text)).toBeNull(),
);
