/** Names under which the browser keeps what is being typed. */
export const IMPORT_STORE = "bravel-import-draft-2";
export const SHEET_STORE = "bravel-sheet-draft";
