import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import type { Chain } from '@nettlewick/core';
import { Editor } from '../state/editor';
import { writePreference, readPreference } from '../state/preferences';

/** How the chains of a level are laid out: as they are tried, or by room or by what sets them off. */
export const layouts = ['order', 'room', 'source'] as const;
export type Layout = (typeof layouts)[number];

/** A chain, with its place in the order in which chains are tried, from 0. */
export interface OrderedChain {
  chain: Chain;
  at: number;
}

/** Chains under one heading; without one where they stand as they are tried. */
export interface ChainGroup {
  /** The room or what sets them off, by its id; empty for neither. */
  of: string;
  title: string;
  chains: OrderedChain[];
}

const nothing: ReadonlySet<string> = new Set();

/** How all wiring is shown. */
const views = ['bands', 'table', 'text'] as const;
export type WiringView = (typeof views)[number];

const keptView = (): WiringView => views.find((one) => one === readPreference('wire-view')) ?? 'bands';
const keptLayout = (): Layout => layouts.find((one) => one === readPreference('wire-layout')) ?? 'order';

/**
 * How the wiring is laid out, which this browser keeps; and which chains and sheaves of it are folded, which is of this window only.
 */
@Injectable()
export class ChainLayout {
  private readonly state = signalState({
    layout: keptLayout(),
    shows: keptView(),
    folded: nothing,
    shut: nothing,
    /** The chain that is to be brought into view. */
    asked: null as string | null,
  });
  readonly layout = this.state.layout;
  /** What is shown: the bands, or all wiring as a table or as text. */
  readonly shows = this.state.shows;
  readonly asTable = computed(() => this.shows() === 'table');
  readonly asText = computed(() => this.shows() === 'text');
  readonly folded = this.state.folded;
  readonly shut = this.state.shut;
  readonly asked = this.state.asked;
  private readonly editor = inject(Editor);
  /** Whether every chain is folded. */
  readonly allFolded = computed(() => {
    const { chains } = this.editor.level();
    return chains.length > 0 && chains.every(({ id }) => this.folded().has(id));
  });

  /** Asks for a chain to be brought into view; null when that is done. */
  ask(chain: string | null): void {
    patchState(this.state, { asked: chain });
  }

  layOut(layout: Layout): void {
    patchState(this.state, { layout, shut: nothing });
    writePreference('wire-layout', layout);
  }

  show(shows: WiringView): void {
    patchState(this.state, { shows });
    writePreference('wire-view', shows);
  }

  /** Shows the wiring in another way, or the bands again if it is shown so already. */
  toggle(shows: WiringView): void {
    this.show(this.shows() === shows ? 'bands' : shows);
  }

  /** Folds a chain, or opens it. */
  fold(chain: string): void {
    patchState(this.state, ({ folded }) => ({ folded: toggled(folded, chain) }));
  }

  /** Folds every chain; or opens all of them, if they are folded already. */
  foldAll(): void {
    const all = this.allFolded() ? [] : this.editor.level().chains.map(({ id }) => id);
    patchState(this.state, { folded: new Set(all) });
  }

  /** Folds a sheaf away under its heading, or opens it. */
  shutOne(of: string): void {
    patchState(this.state, ({ shut }) => ({ shut: toggled(shut, of) }));
  }

  /** Opens a chain, wherever it stands. */
  unfold(chain: string): void {
    const found = this.editor.find(chain)?.thing as Chain | undefined;
    const { layout, folded, shut } = { layout: this.layout(), folded: this.folded(), shut: this.shut() };
    if (found === undefined) return;
    patchState(this.state, {
      folded: without(folded, chain),
      shut: layout === 'order' ? shut : without(shut, this.headingOf(found, layout)),
    });
  }

  /** Chains in sheaves, as they are laid out: each sheaf where its first chain is tried. */
  sheaves(chains: readonly OrderedChain[]): ChainGroup[] {
    const layout = this.layout();
    if (layout === 'order') return [{ of: '', title: '', chains: [...chains] }];
    const found = new Map<string, ChainGroup>();
    for (const one of chains) {
      const of = this.headingOf(one.chain, layout);
      const known = found.get(of);
      if (known !== undefined) known.chains.push(one);
      else found.set(of, { of, title: this.titleOf(of, layout), chains: [one] });
    }
    return [...found.values()];
  }

  /** What sets a chain off first, or the room where that stands. */
  private headingOf({ causes }: Chain, layout: Exclude<Layout, 'order'>): string {
    const source = causes[0]?.of ?? '';
    if (layout === 'source') return source;
    const thing = this.editor.find(source)?.thing;
    return thing !== undefined && 'room' in thing ? String(thing.room) : '';
  }

  private titleOf(of: string, layout: Exclude<Layout, 'order'>): string {
    if (of !== '') return this.editor.nameOf(of).trim();
    return layout === 'room' ? 'in no room' : 'No cause yet';
  }
}

function toggled(set: ReadonlySet<string>, one: string): ReadonlySet<string> {
  return set.has(one) ? without(set, one) : new Set([...set, one]);
}

function without(set: ReadonlySet<string>, one: string): ReadonlySet<string> {
  return set.has(one) ? new Set([...set].filter((other) => other !== one)) : set;
}
