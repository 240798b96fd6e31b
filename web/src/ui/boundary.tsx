import { Component, type ReactNode } from "react";

interface Props {
  /** What stands in this place, as people call it. */
  name: string;
  children: ReactNode;
}

/** A panel that fails says so in its own place, and the others go on. */
export class Boundary extends Component<Props, { failed: string | null }> {
  state = { failed: null as string | null };

  static getDerivedStateFromError(error: unknown) {
    return { failed: error instanceof Error ? error.message : String(error) };
  }

  render() {
    if (this.state.failed === null) return this.props.children;
    return (
      <section aria-label={this.props.name} className="grid h-full place-items-center bg-paper p-4">
        <div role="alert" className="max-w-80 text-sm">
          <p className="font-semibold text-brick">The {this.props.name} failed and shows nothing now.</p>
          <p className="mt-1 text-faint">{this.state.failed}</p>
          <button
            type="button"
            className="mt-2 font-semibold text-slate underline"
            onClick={() => this.setState({ failed: null })}
          >
            Try again
          </button>
        </div>
      </section>
    );
  }
}
