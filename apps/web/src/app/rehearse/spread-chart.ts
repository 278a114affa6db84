import { CSP_NONCE, ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { quantile } from '@nettlewick/core';
import type { SpreadOfChain } from '@nettlewick/core';
import { ChartComponent } from 'ng-apexcharts';
import { Editor } from '../state/editor';
import { Theme } from '../state/theme';

/** When chains started over the runs of a spread: least, quarter, median, three quarters and most of each. */
@Component({
  selector: 'nw-spread-chart',
  imports: [ChartComponent],
  template: `
    <apx-chart
      role="img"
      [attr.aria-label]="label()"
      [series]="series()"
      [chart]="chart()"
      [plotOptions]="plot()"
      [xaxis]="xaxis()"
      [yaxis]="yaxis()"
      [grid]="grid()"
      [stroke]="stroke()"
      [theme]="theme()"
      [tooltip]="{ enabled: false }"
    />
  `,
  styles: `
    :host {
      display: block;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SpreadChart {
  readonly chains = input.required<readonly SpreadOfChain[]>();
  private readonly editor = inject(Editor);
  private readonly paper = inject(Theme);
  private readonly nonce = inject(CSP_NONCE, { optional: true });
  protected readonly series = computed(() => [
    {
      name: 'first start',
      data: this.chains().map(({ chain, times }) => ({
        x: this.editor.nameOf(chain).trim(),
        y: [0, 0.25, 0.5, 0.75, 1].map((part) => Math.round(quantile(times, part) * 1000) / 1000),
      })),
    },
  ]);
  protected readonly chart = computed(() => ({
    type: 'boxPlot' as const,
    nonce: this.nonce ?? undefined,
    height: 64 + this.chains().length * 30,
    animations: { enabled: false },
    toolbar: { show: false },
    zoom: { enabled: false },
    fontFamily: 'IBM Plex Sans Condensed, sans-serif',
    background: 'transparent',
    foreColor: this.ink('--ink'),
  }));
  protected readonly plot = computed(() => ({
    bar: { horizontal: true, barHeight: '55%' },
    boxPlot: { colors: { upper: this.ink('--wash-blue'), lower: this.ink('--wash-blue') } },
  }));
  protected readonly stroke = computed(() => ({ colors: [this.ink('--ink')], width: 1.5 }));
  protected readonly grid = computed(() => ({ borderColor: this.ink('--grid') }));
  protected readonly xaxis = computed(() => ({
    title: { text: 'seconds until the first start' },
    labels: { style: { fontSize: '12px' } },
  }));
  protected readonly yaxis = computed(() => ({ labels: { maxWidth: 190, style: { fontSize: '13px' } } }));
  protected readonly theme = computed(() => ({ mode: this.paper.dark() ? ('dark' as const) : ('light' as const) }));
  protected readonly label = computed(() =>
    this.chains()
      .map(
        ({ chain, times }) =>
          `${this.editor.nameOf(chain).trim()}: ${times[0]!.toFixed(2)} to ${times.at(-1)!.toFixed(2)} seconds`,
      )
      .join('; '),
  );

  private ink(name: string): string {
    this.paper.dark();
    return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  }
}
