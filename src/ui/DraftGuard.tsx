"use client";

import { Component, type ReactNode } from "react";
import { isKept, setAside } from "./browserDraft";
import { toast } from "./toast";

interface Props {
  /** What the browser keeps for the page. */
  store: string;
  children: ReactNode;
}

/**
 * A page that cannot be drawn from what this browser kept is drawn without it: the draft is put aside and the page begins anew. Whatever else is
 * wrong comes again and is said as anywhere.
 */
export class DraftGuard extends Component<Props, { failed: unknown; anew: boolean }> {
  state = { failed: null as unknown, anew: false };

  static getDerivedStateFromError(failed: unknown) {
    return { failed };
  }

  componentDidCatch(failed: unknown) {
    if (this.state.anew || !setAside(this.props.store)) return;
    console.error(failed);
    toast("What this browser had kept for this page could not be read. It is put aside, and the page begins anew.");
    this.setState({ failed: null, anew: true });
  }

  render() {
    if (this.state.failed !== null) {
      if (this.state.anew || !isKept(this.props.store)) throw this.state.failed;
      return null;
    }
    return this.props.children;
  }
}
