import type { MetadataRoute } from "next";

/** Bravel as an application of the phone's home screen. */
export default function manifest(): MetadataRoute.Manifest {
  return {
    name: "Bravel",
    short_name: "Bravel",
    description: "A workbench for people who build solar heating collectors and test them side by side",
    start_url: "/",
    display: "standalone",
    background_color: "#f4f8f8",
    theme_color: "#09171c",
    icons: [{ src: "/icon.svg", sizes: "any", type: "image/svg+xml", purpose: "any" }],
  };
}
