import { ErrorHandler, provideBrowserGlobalErrorListeners, provideZonelessChangeDetection } from '@angular/core';
import { MATERIAL_ANIMATIONS } from '@angular/material/core';
import { MAT_ICON_DEFAULT_OPTIONS } from '@angular/material/icon';
import type { MatTooltipDefaultOptions } from '@angular/material/tooltip';
import { MAT_TOOLTIP_DEFAULT_OPTIONS } from '@angular/material/tooltip';
import { bootstrapApplication } from '@angular/platform-browser';
import { App } from './app/app';
import { provideArvex } from './app/provide-arvex';
import { UnexpectedErrors } from './app/shell/unexpected-errors';

/** Tips are only read: what they lie over can be pressed through them. */
const TOOLTIPS: MatTooltipDefaultOptions = {
  showDelay: 500,
  hideDelay: 0,
  touchendHideDelay: 0,
  disableTooltipInteractivity: true,
};

/** Where the server opens this application without a screen, to make frames. */
const RENDERER = '/renderer';

if (location.pathname === RENDERER) {
  void import('./app/features/review/render-node').then((file) => file.renderForEver());
} else
  bootstrapApplication(App, {
    providers: [
      provideZonelessChangeDetection(),
      provideBrowserGlobalErrorListeners(),
      { provide: ErrorHandler, useClass: UnexpectedErrors },
      provideArvex(),
      // Menus are there and gone at once: an end of an animation that a busy machine never tells would leave its veil behind.
      { provide: MATERIAL_ANIMATIONS, useValue: { animationsDisabled: true } },
      { provide: MAT_ICON_DEFAULT_OPTIONS, useValue: { fontSet: 'material-symbols-outlined' } },
      { provide: MAT_TOOLTIP_DEFAULT_OPTIONS, useValue: TOOLTIPS },
    ],
  }).catch((error: unknown) => console.error(error));
