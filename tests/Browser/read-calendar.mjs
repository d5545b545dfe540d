// Reads an iCalendar from standard input with a reader that is not ours, and prints its entries: from, to and summary, a JSON list.
import { readFileSync } from 'node:fs';
import ICAL from '../../web/node_modules/ical.js/dist/ical.js';

const calendar = new ICAL.Component(ICAL.parse(readFileSync(0, 'utf8')));
const entries = calendar.getAllSubcomponents('vevent').map((one) => new ICAL.Event(one));
const ms = (time) => time.toJSDate().getTime();
console.log(JSON.stringify(entries.map((one) => [ms(one.startDate), ms(one.endDate), one.summary])));
