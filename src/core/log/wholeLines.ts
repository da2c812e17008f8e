import { LONGEST_LINE } from "./sniff";

const LONGEST_QUOTED = 65536;
const QUOTE = 0x22;
const LINE_FEED = 0x0a;

/** Who hears of the lines. */
interface Listener {
  /** Whole lines, the last without its end; line ends are \n. */
  lines(text: string): void;
  /** A line grew beyond the longest and was dropped, so far of so many characters. */
  dropped(length: number): void;
  /** The dropped line has ended. */
  droppedEnded(): void;
}

/** Text that comes in pieces cut anywhere, as whole lines: CR and CRLF are line ends too, and a line break within quotes is none. */
export class WholeLines {
  private carry = "";
  private first = true;
  private inLongLine = false;
  private lineEndPending = false;

  constructor(private readonly listener: Listener) {}

  push(text: string): void {
    // A CR at the end of a piece may be half a CRLF.
    const joined = (this.lineEndPending ? "\r" : "") + text;
    this.lineEndPending = joined.endsWith("\r");
    const ended = this.lineEndPending ? joined.slice(0, -1) : joined;
    const body = ended.includes("\r") ? ended.replace(/\r\n?/g, "\n") : ended;
    const rest = this.pastLongLine(body);
    const whole = this.carry + (this.first && this.carry === "" ? rest.replace(/^\uFEFF/, "") : rest);
    // A quoted cell may hold a line break: only cut where quotes are closed.
    let cut = lastClosedBreak(whole);
    // A stray inch mark never closes; no real quoted cell is this long.
    if (cut < 0 && whole.length > LONGEST_QUOTED) cut = whole.lastIndexOf("\n");
    if (cut < 0) this.carry = whole;
    else {
      this.carry = whole.slice(cut + 1);
      this.first = false;
      this.listener.lines(whole.slice(0, cut));
    }
    this.dropLongLine();
  }

  finish(): void {
    if (this.carry !== "") this.listener.lines(this.carry);
    this.carry = "";
  }

  private dropLongLine(): void {
    if (this.carry.length <= LONGEST_LINE) return;
    this.listener.dropped(this.carry.length);
    this.carry = "";
    this.inLongLine = true;
  }

  /** What follows a line that was dropped; its end must never be taken for a row of its own. */
  private pastLongLine(text: string): string {
    if (!this.inLongLine) return text;
    const end = text.indexOf("\n");
    if (end < 0) return "";
    this.inLongLine = false;
    this.first = false;
    this.listener.droppedEnded();
    return text.slice(end + 1);
  }
}

/** Where the last line ends outside of quotes; −1 when none does. */
function lastClosedBreak(text: string): number {
  if (!text.includes('"')) return text.lastIndexOf("\n");
  let cut = -1;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === QUOTE) quoted = !quoted;
    else if (c === LINE_FEED && !quoted) cut = i;
  }
  return cut;
}
