import './ahead';
import { bootstrapApplication } from '@angular/platform-browser';
import { App } from './app/app';
import { configuration } from './app/configuration';

bootstrapApplication(App, configuration).catch((error: unknown) => console.error(error));
