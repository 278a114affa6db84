import { opensLevel } from './ahead';
import { bootstrapApplication } from '@angular/platform-browser';
import { App } from './app/app';
import { configuration } from './app/configuration';

bootstrapApplication(App, configuration).catch((error: unknown) => console.error(error));

// What will be shown is fetched while the page begins.
if (opensLevel) void import('./app/page/studio-page');
