import type { Engine } from '../core/engine';
import type { ToEngine } from './messages';

/** Has an engine do what a message says. */
export function tell(engine: Engine, message: ToEngine): void {
  switch (message.type) {
    case 'sound':
      return engine.load(message.sound);
    case 'desk':
      return engine.setDesk(message.desk);
    case 'score':
      return engine.setScore(message, message.at);
    case 'click':
      return engine.setClick(message.on);
    case 'play':
      return engine.play(message);
    case 'stop':
      return engine.stop();
    case 'locate':
      return engine.locate(message.to);
    case 'strike':
      return engine.strike(message.strike);
  }
}
