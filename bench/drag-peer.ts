import '@angular/compiler';
import { Component, provideZonelessChangeDetection, signal } from '@angular/core';
import { bootstrapApplication } from '@angular/platform-browser';

// An otherwise empty page of the studio's framework: a box that is dragged about.
class Peer {
  readonly at = signal({ x: 100, y: 100 });
  private held = false;

  press(): void {
    this.held = true;
  }

  move(event: PointerEvent): void {
    if (this.held) this.at.set({ x: event.clientX, y: event.clientY });
  }
}

Component({
  selector: 'body',
  template: `<div
    style="position:absolute;width:40px;height:40px;background:#1d4f7c"
    [style.left.px]="at().x - 20"
    [style.top.px]="at().y - 20"
  ></div>`,
  host: { style: 'display:block;width:100vw;height:100vh', '(pointerdown)': 'press()', '(pointermove)': 'move($event)' },
})(Peer);

void bootstrapApplication(Peer, { providers: [provideZonelessChangeDetection()] });
