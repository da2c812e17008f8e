/** What the server answers to a file; null: a refusal without a word, an Error: the connection breaks. */
type Answers = (name: string, file: File) => object | null | Error;

/** Lets files arrive at a server that answers so. @returns those that were sent */
export function uploadsAnswered(answers: Answers): File[] {
  const sent: File[] = [];
  class Upload {
    upload: { onprogress?: (e: { loaded: number; total: number }) => void } = {};
    onload?: () => void;
    onerror?: () => void;
    status = 200;
    response: unknown = null;
    private name = "";
    open() {}
    setRequestHeader(key: string, value: string) {
      if (key === "x-file-name") this.name = decodeURIComponent(value);
    }
    abort() {}
    send(file: File) {
      sent.push(file);
      const answer = answers(this.name, file);
      if (answer instanceof Error) return this.onerror?.();
      this.status = answer && !("error" in answer) ? 200 : 400;
      this.response = answer;
      this.upload.onprogress?.({ loaded: 1, total: 1 });
      this.onload?.();
    }
  }
  Object.assign(global, { XMLHttpRequest: Upload });
  return sent;
}
