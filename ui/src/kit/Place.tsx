import { Component, type ComponentType, lazy, type ReactNode } from "react";
import { http } from "../api/client";
import { words } from "../words";
import { Trouble } from "./States";

const AGAIN_MS = 1_000;
const answers = () =>
  http.GET("/api/clock").then(
    ({ response }) => response.ok,
    () => false,
  );

/** A place, fetched when it is first opened; asked for again while the app is away. */
export function place(fetched: () => Promise<{ default: ComponentType }>) {
  const patiently = async (): Promise<{ default: ComponentType }> => {
    try {
      return await fetched();
    } catch {
      await new Promise((on) => setTimeout(on, AGAIN_MS));
      // An app that answers and still has no such file is another version by now: the whole page is to be taken anew.
      return (await answers()) ? fetched() : patiently();
    }
  };
  return lazy(patiently);
}

/** Round a place: what fails in it is said there, and the other places stay open. */
export class Contained extends Component<{ children: ReactNode; at: string }, { failed: boolean; at?: string }> {
  state: { failed: boolean; at?: string } = { failed: false };
  static getDerivedStateFromError() {
    return { failed: true };
  }
  static getDerivedStateFromProps({ at }: { at: string }, state: { at?: string }) {
    return at === state.at ? null : { at, failed: false };
  }
  render() {
    if (!this.state.failed) return this.props.children;
    return <Trouble error={new Error(words.kit.theAppFailedHere)} again={() => location.reload()} />;
  }
}
