import { Injectable, computed, effect, inject, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router } from '@angular/router';
import { patchState, signalState } from '@ngrx/signals';
import { everyEntry } from '@nettlewick/core';
import type { LedgerFilter } from '@nettlewick/core';

const texts = ['visitor', 'chain', 'kind', 'reason', 'text'] as const;
const ticks = ['from', 'to'] as const;

/** What of the ledger is wanted: kept in the address, so that a filter can be sent as a link. */
@Injectable()
export class LedgerQuery {
  private readonly state = signalState<{ wanted: LedgerFilter }>({ wanted: everyEntry });
  readonly wanted = this.state.wanted;
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  private readonly asked = toSignal(this.route.queryParamMap);
  /** Whether anything is asked for. */
  readonly isSet = computed(() => written(this.wanted()) !== '');

  /** What was written into the address and has not come back from it yet: one may type faster than it follows. */
  private readonly underway = new Set<string>();

  constructor() {
    effect(() => {
      const asked = this.asked()?.get('ledger') ?? '';
      untracked(() => {
        if (asked === written(this.wanted())) this.underway.clear();
        else if (!this.underway.has(asked)) patchState(this.state, { wanted: readFilter(asked) });
      });
    });
  }

  ask(part: Partial<LedgerFilter>): void {
    patchState(this.state, ({ wanted }) => ({ wanted: { ...wanted, ...part } }));
    const text = written(this.wanted());
    this.underway.add(text);
    void this.router.navigate([], {
      relativeTo: this.route,
      queryParams: { ledger: text === '' ? null : text },
      queryParamsHandling: 'merge',
      replaceUrl: true,
    });
  }

  clear(): void {
    this.ask(everyEntry);
  }
}

/** A filter as it stands in an address: only what is asked for. */
function written(filter: LedgerFilter): string {
  const parts = new URLSearchParams();
  for (const key of texts) if (filter[key] !== '') parts.set(key, filter[key]);
  for (const key of ticks) if (filter[key] !== null) parts.set(key, String(filter[key]));
  return parts.toString();
}

/** A filter from an address; what is not understood asks for nothing. */
function readFilter(text: string): LedgerFilter {
  const parts = new URLSearchParams(text);
  const filter = { ...everyEntry };
  for (const key of texts) filter[key] = parts.get(key) ?? '';
  for (const key of ticks) {
    const tick = Number(parts.get(key) ?? 'none');
    filter[key] = Number.isInteger(tick) && tick >= 0 ? tick : null;
  }
  return filter;
}
