import { Injectable } from '@angular/core';

/** A text of the wiring that could not be read when it was left: it is there again when one comes back. */
@Injectable({ providedIn: 'root' })
export class UnappliedText {
  private kept: { levelId: string | null; base: string; text: string } | null = null;

  /** `base`: the text of the level as it was then. */
  keep(levelId: string | null, base: string, text: string): void {
    this.kept = { levelId, base, text };
  }

  /** What was kept of a level, once. */
  take(levelId: string | null): { base: string; text: string } | null {
    const { kept } = this;
    this.kept = null;
    return kept?.levelId === levelId ? kept : null;
  }
}
