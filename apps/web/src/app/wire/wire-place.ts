import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { chainSentence, connections, eventsOf, freeName, nameOf } from '@nettlewick/core';
import type { Chain } from '@nettlewick/core';
import { Board } from '../board/board';
import type { BoardPointer } from '../board/board';
import { Editor } from '../studio/editor';
import { Commands } from '../studio/commands';
import { Rooms } from '../studio/rooms';
import { ChainBand } from './chain-band';
import { ConnectionList } from './connection-list';

const shownAtMost = 60;

/** The second place: every chain is one band, in the order in which chains are tried. */
@Component({
  selector: 'nw-wire-place',
  imports: [Board, ChainBand, ConnectionList],
  templateUrl: './wire-place.html',
  styleUrl: './wire-place.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WirePlace {
  protected readonly editor = inject(Editor);
  protected readonly rooms = inject(Rooms);
  protected readonly wanted = signal('');
  protected readonly onlyConnected = signal(false);
  protected readonly limit = signal(shownAtMost);
  protected readonly inHand = computed(() => this.editor.selected()[0] ?? null);
  protected readonly connected = computed(() => {
    const found = this.inHand();
    if (found === null || found.collection === 'chains') return null;
    const { setsOff, askedBy, actedOnBy } = connections(this.editor.level(), found.thing.id);
    return new Set([...setsOff, ...askedBy, ...actedOnBy]);
  });
  protected readonly chains = computed<{ chain: Chain; at: number }[]>(() => {
    const level = this.editor.level();
    const wanted = this.wanted().trim().toLowerCase();
    const connected = this.onlyConnected() ? this.connected() : null;
    return level.chains
      .map((chain, at) => ({ chain, at }))
      .filter(({ chain }) => connected === null || connected.has(chain.id))
      .filter(
        ({ chain }) =>
          wanted === '' || `${chain.name} ${chainSentence(chain, (id) => nameOf(level, id))}`.toLowerCase().includes(wanted),
      );
  });
  protected readonly shown = computed(() => this.chains().slice(0, this.limit()));
  /** What a new chain would be set off by: the thing in hand, if it raises any event. */
  protected readonly source = computed(() => {
    const found = this.inHand();
    // A chain in hand is no more than the last that was looked at: a new one is not set off by it unasked.
    return found !== null && found.collection !== 'chains' && eventsOf(found.word).length > 0 ? found : null;
  });

  protected readonly commands = inject(Commands);

  constructor() {
    this.commands.offer({ 'new-chain': () => this.newChain() });
  }

  protected newChain(): void {
    const level = this.editor.level();
    const source = this.source();
    const id = this.editor.newId('chain');
    const causes = source === null ? [] : [this.editor.newCause(eventsOf(source.word)[0]!, source.thing.id)];
    const name = freeName(level, source === null ? 'New chain' : `${source.thing.name.trim()} sets off`.slice(0, 74));
    this.editor.add('chains', {
      id,
      name,
      enabled: true,
      causes,
      guard: '',
      whileRunning: 'ignore',
      delay: 0,
      givesUp: false,
      steps: [],
    });
    this.wanted.set('');
    this.onlyConnected.set(false);
    this.limit.update((limit) => Math.max(limit, level.chains.length + 1));
    this.editor.select(id);
    setTimeout(() => document.querySelector(`[data-chain="${id}"]`)?.scrollIntoView({ block: 'nearest' }));
  }

  protected onPressed(pointer: BoardPointer): void {
    if (pointer.thing !== null) this.editor.select(pointer.thing);
  }

  protected onReleased(pointer: BoardPointer): void {
    if (pointer.thing === null && pointer.moved < 4) this.editor.select();
  }
}
