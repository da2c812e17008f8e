/** Stands in for next/navigation: where a screen wants to go is read from the mocks. */
export const router = { push: jest.fn(), replace: jest.fn(), refresh: jest.fn(), back: jest.fn(), prefetch: jest.fn() };
export const place = { path: "/", search: "" };

export const useRouter = () => router;
export const usePathname = () => place.path;
export const useSearchParams = () => new URLSearchParams(place.search);
