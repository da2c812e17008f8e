/** What of a new site nobody has said yet; null when it is all there. */
export function unsaidOfSite(site: {
  name: string;
  latitude: number;
  longitude: number;
  altitudeM: number;
  zone: string;
}): string | null {
  const left = [
    ...(site.name.trim() ? [] : ["its name"]),
    ...(Number.isNaN(site.latitude + site.longitude) ? ["its coordinates"] : []),
    ...(Number.isNaN(site.altitudeM) ? ["its altitude"] : []),
    ...(site.zone.trim() ? [] : ["its time zone"]),
  ];
  return left.length ? `Say of the new site: ${left.join(", ")}. Sun, air and clock hang on them.` : null;
}
