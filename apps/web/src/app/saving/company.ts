import { DestroyRef, Injectable, effect, inject, untracked } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { pathOf, routes, savedEvent } from '@nettlewick/contract';
import * as z from 'zod';
import { PlayFeed } from '../state/play-feed';
import { LevelStore } from '../state/level-store';
import { Autosave } from './autosave';
import { CatchingUp } from './catching-up';
import { failureText } from '../workers/api-client';
import { LevelsApi } from './levels-api';

const playedEvent = z.object({ lines: z.array(z.looseObject({})) });
const presentEvent = z.object({ windows: z.number().int() });

/** Delay before reconnecting, in ms. Doubles with each attempt, up to `RETRY_MAX_MS`. */
const RETRY_MIN_MS = 2000;
const RETRY_MAX_MS = 64_000;

/**
 * Who else has the level open: what another window saves is taken over at once. Only a window that is seen listens: a browser opens few
 * connections to one server.
 */
@Injectable()
export class LevelSync {
  private readonly state = signalState({ windows: 0, deleted: false });
  /** How many windows have the level open, this one among them; 0 while it is not known. And whether it was deleted meanwhile. */
  readonly windows = this.state.windows;
  readonly deleted = this.state.deleted;
  private readonly store = inject(LevelStore);
  private readonly api = inject(LevelsApi);
  private readonly catching = inject(CatchingUp);
  private readonly feed = inject(PlayFeed);
  private readonly autosave = inject(Autosave);
  private source: EventSource | null = null;

  constructor() {
    let again: ReturnType<typeof setTimeout> | undefined;
    let wait = RETRY_MIN_MS;
    const listen = (): void => {
      clearTimeout(again);
      this.source?.close();
      this.source = null;
      patchState(this.state, { windows: 0, deleted: false });
      const id = this.store.levelId();
      if (id === null || document.visibilityState !== 'visible' || typeof EventSource === 'undefined') return;
      const source = new EventSource(pathOf(routes.watchLevel, { id }));
      source.addEventListener('present', ({ data }) =>
        patchState(this.state, { windows: read(presentEvent, data)?.windows ?? 0 }),
      );
      source.addEventListener('saved', ({ data }) => {
        const theirs = read(savedEvent, data);
        if (theirs !== null) void this.catching.take(id, theirs);
      });
      // What was saved while nobody listened is asked for once.
      source.addEventListener('open', () => {
        wait = RETRY_MIN_MS;
        void this.catching.lookUp(id);
      });
      source.addEventListener('deleted', () => patchState(this.state, { deleted: true }));
      source.addEventListener('restored', () => {
        patchState(this.state, { deleted: false });
        this.autosave.now();
        void this.catching.lookUp(id);
      });
      source.addEventListener('played', ({ data }) => this.feed.take(read(playedEvent, data)?.lines ?? []));
      source.addEventListener('error', () => {
        patchState(this.state, { windows: 0 });
        // A lost connection is sought again by the browser; one that was refused is not.
        if (source.readyState !== EventSource.CLOSED || this.source !== source) return;
        clearTimeout(again);
        again = setTimeout(listen, wait);
        wait = Math.min(RETRY_MAX_MS, 2 * wait);
      });
      this.source = source;
    };
    let listening: string | null = null;
    effect(() => {
      const id = this.store.level() === null ? null : this.store.levelId();
      if (id === listening) return;
      listening = id;
      untracked(listen);
    });
    document.addEventListener('visibilitychange', listen);
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(again);
      document.removeEventListener('visibilitychange', listen);
      this.source?.close();
    });
  }

  /** Recovers the level that another window has deleted. Gives why it could not be, or null. */
  async recover(): Promise<string | null> {
    const id = this.store.levelId();
    const answer = id === null ? null : await this.api.restore(id);
    if (answer === null || !answer.ok) return answer === null ? null : failureText(answer);
    patchState(this.state, { deleted: false });
    this.autosave.now();
    return null;
  }
}

function read<T>(schema: z.ZodType<T>, data: unknown): T | null {
  try {
    return schema.parse(JSON.parse(String(data)));
  } catch {
    return null;
  }
}
