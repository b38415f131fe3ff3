import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { HostModel } from '@rondo/core/host';
import type { Reach } from './reach';
import { BoothPicture } from './booth/booth-picture';
import { PlainPicture } from './plain/plain-picture';
import { StudioPicture } from './studio/studio-picture';

/** The host as a picture: live, and played with mouse, touch and keyboard where it is simulated. */
@Component({
  selector: 'rondo-host-picture',
  imports: [BoothPicture, PlainPicture, StudioPicture],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @switch (model().id) {
      @case ('studio') {
        <rondo-studio-picture
          [model]="model()"
          [hostId]="hostId()"
          [reaches]="reaches()"
          [real]="real()"
        />
      }
      @case ('booth') {
        <rondo-booth-picture
          [model]="model()"
          [hostId]="hostId()"
          [reaches]="reaches()"
          [real]="real()"
        />
      }
      @default {
        <rondo-plain-picture
          [model]="model()"
          [hostId]="hostId()"
          [reaches]="reaches()"
          [real]="real()"
        />
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: minmax(0, 1fr);
      min-height: 0;
    }
  `,
})
export class HostPicture {
  readonly model = input.required<HostModel>();
  readonly hostId = input.required<string>();
  /** Which strips each surface reaches. */
  readonly reaches = input<readonly Reach[]>([]);
  /** A real program stands behind the port: the picture shows what is known of it. */
  readonly real = input(false);
}
