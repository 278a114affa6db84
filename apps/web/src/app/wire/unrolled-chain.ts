import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { consequenceWords, spoken, stepPhrase } from '@nettlewick/core';
import type { TriggeredChains } from '@nettlewick/core';
import { Editor } from '../state/editor';
import { brief } from './seconds';

/** Chains triggered by a chain, one line a chain, on the ruler of the chain that it is unrolled from. */
@Component({
  selector: 'nw-unrolled-chain',
  template: `
    <ol [attr.aria-label]="'Chains triggered by ' + name()">
      @for (line of lines(); track $index) {
        <li class="line" [attr.aria-label]="line.spoken">
          <span class="text" [style.padding-left.px]="line.indent">
            <em>{{ line.from }}</em> {{ line.event }}:
            <button type="button" class="link" (click)="opened.emit(line.chain)">{{ line.name }}</button>
            @if (line.off) {
              <em>(switched off at the start)</em>
            }
            @if (line.guard) {
              <em>if its condition holds</em>
            }
          </span>
          <div class="lane" aria-hidden="true">
            @if (line.isLoop) {
              <span class="loop" [style.left.%]="line.at" [class.late]="line.at > 60">
                <svg viewBox="0 0 16 16" width="14" height="14"><path d="M12.5 5A5.5 5.5 0 1 0 13.5 9M13 1.5V5.5H9" /></svg>
                loops
              </span>
            } @else {
              @for (block of line.blocks; track $index) {
                <span
                  class="block"
                  [class.instant]="block.width === 0"
                  [attr.data-number]="$index + 1"
                  [style.left.%]="block.left"
                  [style.width.%]="block.width === 0 ? null : block.width"
                  [attr.data-tip]="block.title"
                ></span>
              } @empty {
                <span class="loop" [style.left.%]="line.at" [class.late]="line.at > 60">no steps</span>
              }
            }
          </div>
        </li>
      }
    </ol>
    @if (cut()) {
      <p class="quiet">More chains not shown</p>
    }
  `,
  styleUrl: './unrolled-chain.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class UnrolledChain {
  readonly name = input.required<string>();
  readonly chains = input.required<readonly TriggeredChains[]>();
  /** Whether there are more than are told. */
  readonly cut = input.required<boolean>();
  /** How many seconds the ruler shows. */
  readonly reach = input.required<number>();
  /** The id of a chain that is asked for. */
  readonly opened = output<string>();
  private readonly editor = inject(Editor);

  protected readonly lines = computed(() =>
    this.chains().map(({ chain, depth, by, starts, spans, isLoop }) => {
      const nameOf = (id: string): string => this.editor.nameOf(id);
      const from = by.step === null ? 'at its end' : `step ${by.step + 1}`;
      const event = consequenceWords(by, nameOf);
      const blocks = spans.map((span, i) => ({
        left: this.percent(starts + span.start),
        width: this.percent(span.end - span.start),
        title: `${i + 1}: ${spoken(stepPhrase(chain.steps[i]!), nameOf)}, at ${brief(starts + span.start)} s`,
      }));
      const runs = isLoop ? 'loops' : blocks.length === 0 ? 'no steps' : blocks.map(({ title }) => title).join('; ');
      return {
        chain: chain.id,
        name: chain.name.trim(),
        indent: Math.min(depth - 1, 8) * 16,
        from,
        event,
        off: !chain.enabled,
        guard: chain.guard.trim() !== '',
        isLoop,
        at: this.percent(starts),
        blocks,
        spoken: `${depth > 1 ? `${depth} deep, in ${nameOf(by.chain)}, ` : ''}${from}, ${event}: ${chain.name.trim()} at ${brief(starts)} s, ${runs}`,
      };
    }),
  );

  private percent(seconds: number): number {
    return (seconds / this.reach()) * 100;
  }
}
