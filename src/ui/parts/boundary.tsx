'use client';
import { Component, type ErrorInfo, type ReactNode } from 'react';
import { Button } from './button';

interface BoundaryProps {
  /** What fails, as it is called on the page: 'The weave'. */
  readonly name: string;
  /** Another one tries again by itself: what failed may not be shown any more. */
  readonly of?: string;
  readonly children: ReactNode;
}

interface BoundaryState {
  readonly error: Error | null;
  readonly of: string | undefined;
}

/** Keeps what fails in its place: it says so there, with a way to try again, and everything around it works on. */
export class Boundary extends Component<BoundaryProps, BoundaryState> {
  override state: BoundaryState = { error: null, of: this.props.of };

  static getDerivedStateFromError(error: Error): Partial<BoundaryState> {
    return { error };
  }

  static getDerivedStateFromProps({ of }: BoundaryProps, state: BoundaryState): Partial<BoundaryState> | null {
    return of === state.of ? null : { of, error: null };
  }

  override componentDidCatch(error: Error, info: ErrorInfo): void {
    console.error(`${this.props.name} failed:`, error, info.componentStack);
  }

  override render(): ReactNode {
    const { error } = this.state;
    if (error === null) return this.props.children;
    return (
      <div
        role="alert"
        data-failed={this.props.name}
        className="flex flex-col items-start gap-2 border-l-[3px] border-fault bg-sheet p-3.5 text-ink"
      >
        <p>
          {this.props.name} could not be shown: {error.message}. Your changes are kept.
        </p>
        <Button onClick={() => this.setState({ error: null })}>Try again</Button>
      </div>
    );
  }
}
