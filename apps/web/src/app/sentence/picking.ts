import { Injectable } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import type { Point } from '@nettlewick/core';

/** Where on the sheet something was picked: the thing there, if there is one, and the point, with its height in a section. */
export interface Picked {
  thing: string | null;
  at: Point & { z?: number };
  room: string;
}

/** What is asked to be picked on the sheet. */
export interface PickRequest {
  /** What is wanted, in words. */
  wanted: string;
  /** Takes what was picked; false if that is not what was asked for. */
  take(picked: Picked): boolean;
}

/** A value that waits to be picked on the sheet, whichever sheet is shown: one at a time. */
@Injectable()
export class Picking {
  private readonly state = signalState<{ request: PickRequest | null }>({ request: null });
  readonly request = this.state.request;
  ask(request: PickRequest): void {
    patchState(this.state, { request });
  }

  /** Gives what was picked to who asked for it; whether anybody did. */
  give(picked: Picked): boolean {
    const request = this.request();
    if (request === null) return false;
    if (request.take(picked)) this.end();
    return true;
  }

  /** Asks for nothing any more: only who asked may say so. */
  forget(request: PickRequest | null): void {
    if (request !== null && this.request() === request) this.end();
  }

  /** Asks for nothing any more, whoever asked. */
  end(): void {
    patchState(this.state, { request: null });
  }
}
