import {
  DEVICE_COOKIE,
  noCookie,
  passphraseFits,
  passphraseHash,
  SESSION_COOKIE,
  sealed,
  sealedCookie,
  unsealed,
  VIEWER_COOKIE,
} from "./session";

const NOW = Date.UTC(2026, 9, 6);
const env = { BRAVEL_SESSION_KEY: "a key of the server", BRAVEL_GUARD: "set" };
const session = `${SESSION_COOKIE}=${sealed("session-abc", NOW + 1000, env)}`;

test("a passphrase fits its hash alone, however its letters are composed; the hash does not hold it", async () => {
  const hash = passphraseHash("warm wool on the terräce");
  expect(await passphraseFits("warm wool on the terra\u0308ce", hash)).toBe(true);
  expect(await passphraseFits("warm wool on the terrace", hash)).toBe(false);
  expect(hash).not.toContain("wool");
  expect(passphraseHash("same")).not.toBe(passphraseHash("same"));
});

test("a sealed cookie opens until its time, under its key, whole", () => {
  expect(unsealed("session", `other=1; ${session}`, NOW, env)).toBe("abc");
  expect(unsealed("session", session, NOW + 2000, env)).toBeNull();
  expect(unsealed("session", session, NOW, { ...env, BRAVEL_SESSION_KEY: "another" })).toBeNull();
  expect(unsealed("session", session, NOW, {})).toBeNull();
  for (let i = SESSION_COOKIE.length + 1; i < session.length; i++) {
    const bent = session.slice(0, i) + (session[i] === "x" ? "y" : "x") + session.slice(i + 1);
    expect(unsealed("session", bent, NOW, env)).toBeNull();
  }
});

test("one kind of seal is none of another, whatever cookie it is put into", () => {
  expect(unsealed("viewer", session.replace(SESSION_COOKIE, VIEWER_COOKIE), NOW, env)).toBeNull();
  const device = `${DEVICE_COOKIE}=${sealed("device-7", NOW + 1000, env)}`;
  expect(unsealed("device", device, NOW, env)).toBe("7");
  expect(unsealed("session", device.replace(DEVICE_COOKIE, SESSION_COOKIE), NOW, env)).toBeNull();
});

test("cookies are for this site alone, out of reach of scripts, and encrypted where the link is", () => {
  const until = { nowMs: NOW, forMs: 1000, secure: true };
  expect(sealedCookie("session", "abc", until, env)).toMatch(
    /^bravel-session=session-abc\.\d+\.[\w-]+\.[\w-]+; Path=\/; Max-Age=1; HttpOnly; SameSite=Strict; Secure$/,
  );
  expect(noCookie("session", false)).toBe("bravel-session=; Path=/; Max-Age=0; HttpOnly; SameSite=Strict");
});
