import { effect, inject, untracked } from '@angular/core';
import type { WritableSignal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router } from '@angular/router';
import type { ParamMap } from '@angular/router';
import { Editor } from '../state/editor';
import { LastViewedMoment } from '../editing/last-look';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';

/** What is looked at has to rest so long before it is written into the address, in milliseconds: a browser hinders who writes too often. */
const REST = 300;

/** What is looked at in a rehearsal: parts that are not given are as they are at first. */
interface Looked {
  walk: string | null;
  entry: string | null;
  tick: string | null;
  about: string | null;
}
const parts = ['walk', 'entry', 'tick', 'about'] as const;

/**
 * Keeps in the address which walk is looked at, at which entry or tick, and `about` which thing, so that reload, back, forward and a sent
 * link come back to the same. Who comes without any of it sees what was looked at last. Called where a place is made.
 */
export function syncUrl(about: WritableSignal<string | null>): void {
  const router = inject(Router);
  const route = inject(ActivatedRoute);
  const editor = inject(Editor);
  const rehearser = inject(RehearsalStore);
  const playback = inject(Playback);
  const last = inject(LastViewedMoment);
  const asked = toSignal(route.queryParamMap);
  let known: string | null = null;

  const read = (params: ParamMap): void => {
    const looked = Object.fromEntries(parts.map((part) => [part, params.get(part)])) as unknown as Looked;
    const key = keyOf(looked);
    if (key === known) return;
    const isFirst = known === null;
    known = key;
    const before = last.looked();
    if (isFirst && key === keyOf(nothing) && before !== null && editor.find(before.walk)?.collection === 'walks') {
      playback.showIn(before.walk, { tick: last.tick() });
      return;
    }
    if (looked.walk !== null && editor.find(looked.walk)?.collection === 'walks') rehearser.choose(looked.walk);
    about.set(looked.about !== null && editor.find(looked.about) !== undefined ? looked.about : null);
    const [entry, tick] = [looked.entry, looked.tick].map((one) => Math.max(0, Math.trunc(Number(one ?? 0)) || 0));
    const walk = rehearser.walk();
    if (walk !== null && entry! + tick! > 0) playback.showIn(walk.id, { entry: entry!, tick: tick! });
  };

  const write = (looked: Looked): void => {
    const key = keyOf(looked);
    if (key === known) return;
    known = key;
    void router.navigate([], { relativeTo: route, queryParams: looked, queryParamsHandling: 'merge', replaceUrl: true });
  };

  effect(() => {
    const params = asked();
    if (params !== undefined) untracked(() => read(params));
  });
  effect((onCleanup) => {
    const [entry, tick, walk] = [playback.chosen(), playback.tick(), rehearser.wanted()];
    const of = about();
    // What is only passing by, or is no walk of the level, has no address.
    if (playback.playing() || rehearser.live() !== null || rehearser.other() !== null || rehearser.result() === null) return;
    if (playback.awaited() !== null) return;
    const timer = setTimeout(() => {
      write({
        walk: walk === '' ? null : walk,
        entry: entry === null ? null : String(entry),
        tick: entry === null && tick > 0 ? String(tick) : null,
        about: of !== null && editor.find(of) !== undefined ? of : null,
      });
    }, REST);
    onCleanup(() => clearTimeout(timer));
  });
}

const nothing: Looked = { walk: null, entry: null, tick: null, about: null };

function keyOf(looked: Looked): string {
  return parts.map((part) => looked[part] ?? '').join(' ');
}
