import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { filterOptions, secondsOf } from '@nettlewick/core';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { Editor } from '../state/editor';
import { SearchLabel } from '../controls/search-label';
import { LedgerQuery } from './ledger-query';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';

/** What of the ledger is shown: by words, by who, by what, by why, and by when. Only what comes up in it is offered. */
@Component({
  selector: 'nw-ledger-filters',
  imports: [FormsModule, SearchLabel, NzSelectModule],
  templateUrl: './ledger-filters.html',
  styleUrl: './ledger-filters.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LedgerFilters {
  protected readonly query = inject(LedgerQuery);
  private readonly editor = inject(Editor);
  private readonly playback = inject(Playback);
  private readonly rehearser = inject(RehearsalStore);
  protected readonly open = signal(false);
  private readonly offered = computed(() => filterOptions(this.playback.entries()));
  protected readonly choices = computed(() => {
    const { visitors, chains, kinds, reasons } = this.offered();
    const named = (ids: readonly string[]) => ids.map((id) => ({ value: id, label: this.editor.nameOf(id).trim() || id }));
    const spoken = (words: readonly string[]) => words.map((word) => ({ value: word, label: word.replaceAll('-', ' ') }));
    return [
      { part: 'visitor' as const, label: 'Visitor', any: 'anybody', options: named(visitors) },
      { part: 'chain' as const, label: 'Chain', any: 'any chain', options: named(chains) },
      { part: 'kind' as const, label: 'Kind of entry', any: 'Any event', options: spoken(kinds) },
      { part: 'reason' as const, label: 'Why it was held', any: 'Any reason', options: spoken(reasons) },
    ].map((one) => ({ ...one, options: [{ value: '', label: one.any }, ...one.options] }));
  });

  protected choose(part: 'visitor' | 'chain' | 'kind' | 'reason', value: string): void {
    this.query.ask({ [part]: value });
  }

  protected readonly ends = [
    { part: 'from' as const, label: 'From when, in seconds', now: 'Now as the start' },
    { part: 'to' as const, label: 'To when, in seconds', now: 'Now as the end' },
  ];

  private get rate(): number {
    return this.rehearser.result()?.rate ?? 60;
  }

  protected seconds(part: 'from' | 'to'): string {
    const tick = this.query.wanted()[part];
    return tick === null ? '' : String(secondsOf(tick, this.rate));
  }

  /** From and to when are typed in seconds; nothing, or what is no number, asks for nothing. */
  protected setSeconds(part: 'from' | 'to', text: string): void {
    const seconds = Number(text.trim().replace(',', '.'));
    const given = text.trim() !== '' && Number.isFinite(seconds) && seconds >= 0;
    this.query.ask({ [part]: given ? Math.round(seconds * this.rate) : null });
  }

  /** From or to the moment that is played. */
  protected setNow(part: 'from' | 'to'): void {
    this.query.ask({ [part]: this.playback.tick() });
  }
}
