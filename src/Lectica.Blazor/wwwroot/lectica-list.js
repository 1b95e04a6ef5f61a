import './lectica-early.js';
import { attachScrolling } from './lectica-scroll.js';
import { attachTransfers } from './lectica-transfer.js';

// What must happen in the browser at once: capture, prevented defaults, one batch of samples a frame, and what moves in each. It knows
// nothing of lists.

const kinds = { pointerdown: 0, pointermove: 1, pointerup: 2, pointercancel: 3 };
const types = { mouse: 0, pen: 1, touch: 2 };
const modifiers = e => (e.ctrlKey ? 1 : 0) | (e.shiftKey ? 2 : 0) | (e.altKey ? 4 : 0) | (e.metaKey ? 8 : 0);
// What was done before there was an answer.
const early = document[Symbol.for('lectica.kept')], { ownControls } = early;
// Of one sample: kind, pointer, type, x, y, time, button, buttons, modifiers, primary, pressure.
const fields = 11, mostSamples = 64;
// The pointer that a trackpad's sideways wheels stand for, and how much of a list is printed, px.
const wheelPointer = -7, mostPrinted = 30000;
// What a note tells.
const scrolled = 0, resized = 1, focused = 2, windowPlaced = 3, windowSized = 4, pressedOutside = 5, noticeHeld = 6, textSized = 7,
    modKeyTold = 8, menuScrolled = 9;
// Those that stay true, and after how long they are told again where nobody answers, ms.
const lasting = new Set([scrolled, resized, focused, windowPlaced, windowSized, textSized, modKeyTold]), unheardTime = 2000;
// What was seen where somebody pressed.
const unseen = 0, nothing = 1, anItem = 2, aHeading = 3, anEntry = 4;
// How long things glide, ms, and how.
const glideTime = 180, fadeTime = 140, easing = 'cubic-bezier(.22, 1, .36, 1)';
const isStill = matchMedia('(prefers-reduced-motion: reduce)');

/** For a page that runs the list itself: it answers at once, and samples go by memory that both have. */
export function attachHere(id, memory, samples, key, note, heights, transfer) {
    const element = document.getElementById(id);
    // What brings an event to .NET is run once before somebody presses a button: as with all code, its first time is the longest.
    setTimeout(() => {
        element.closest('.lectica')?.querySelector(':scope > .lectica-said')?.dispatchEvent(new MouseEvent('mouseleave'));
    }, 500);
    return attach(element, {
        samples: batch => { memory.set(batch); return samples(batch.length); },
        key, note, transfer,
        heights: (keys, all) => { memory.set(Float64Array.from(all)); heights(keys.join('\0'), all.length); },
        end: () => memory.dispose(),
    }, true);
}

/**
 * What is told on a broken line is lost, and nothing says so: what is true of the page, such as how it is scrolled, is told again until
 * somebody answers or something else is true.
 */
function tellUntilHeard(element, tell) {
    const latest = new Map();
    return (kind, ...what) => {
        const answer = tell(kind, ...what);
        if (!lasting.has(kind)) return;
        latest.set(kind, what);
        const again = setInterval(() => {
            if (latest.get(kind) === what && element.isConnected) tell(kind, ...what).then(heard, heard);
            else heard();
        }, unheardTime);
        const heard = () => clearInterval(again);
        answer.then(heard, heard);
    };
}

/** For a page whose list is elsewhere: its answers come later. */
export const attachRemote = (element, bridge) => attach(element, {
    samples: (batch, seen) =>
        bridge.invokeMethodAsync('TakeSamples', Array.from(batch), seen?.kind ?? unseen, seen?.name ?? null, seen?.x ?? 0, seen?.y ?? 0),
    key: (...args) => bridge.invokeMethodAsync('TakeKey', ...args),
    note: tellUntilHeard(element, (...args) => bridge.invokeMethodAsync('TakeNote', ...args)),
    heights: (...args) => bridge.invokeMethodAsync('TakeHeights', ...args),
    // A message holds 32 kB, and a letter may be three bytes.
    transfer: (kind, packed) => {
        for (; packed.length > 8000; packed = packed.slice(8000)) bridge.invokeMethodAsync('BeginTransfer', packed.slice(0, 8000));
        return bridge.invokeMethodAsync('TakeTransfer', kind, packed);
    },
    end: () => { },
}, false);

export const scrollTo = (view, ...place) => view.scrollTo(...place);
export const carryTo = (view, ...places) => view.carryTo(...places);
export const say = (view, text) => view.say(text);
export const glide = (view, rows) => view.glide(rows);
export const hint = (view, time) => view.hint(time);
export const reveal = (view, id) => view.reveal(id);
export const raise = (view, id) => view.raise(id);
export const expectUse = (view, use) => view.expectUse(use);
export const putClipboard = (view, packed) => view.putClipboard(packed);
export const askClipboard = view => view.askClipboard();
export const detach = view => view.detach();
export { openFile } from './lectica-transfer.js';

/**
 * @param {HTMLElement} element the one that has the keyboard, from whose edges places are counted
 * @param {object} list what the list is told
 * @param {boolean} answersAtOnce
 */
function attach(element, list, answersAtOnce) {
    const root = element.closest('.lectica'), viewport = root.querySelector('.lectica-viewport'),
        over = root.querySelector('.lectica-over'), said = root.querySelector('.lectica-said');
    // Each pointer that is down, and by how much the row that it pressed was then seen ahead of its place: a press is of what is seen, and
    // what comes of it goes with that row until the list has the pointer. A list elsewhere works that out from the row's name.
    const down = new Map(), still = [0, 0], samples = new Float64Array(fields * mostSamples);
    let count = 0, frame = 0, holds = false, scrollDue = 0, keys = new Set(), seen = null;
    const stop = new AbortController();
    const listen = (target, names, handler, options = {}) =>
        names.split(' ').forEach(name => target.addEventListener(name, handler, { signal: stop.signal, ...options }));

    function flush() {
        if (frame) cancelAnimationFrame(frame);
        frame = 0;
        if (count === 0) return;
        const answer = list.samples(samples.subarray(0, count), seen);
        count = 0;
        seen = null;
        if (answersAtOnce) holds = answer;
        else answer.then(a => holds = a);
    }

    const scrolling = attachScrolling(root, element, viewport);
    // What the list scrolls itself is not told back to it: it might be elsewhere by then. What it is told comes with how often it has
    // scrolled so far: from elsewhere the two may cross on their way.
    let knownTop = 0, knownHeight = 0, scrolls = 0;
    function tellScroll() {
        scrollDue = 0;
        // Where nothing of it is seen the page is elsewhere: the list stays as it was left.
        if (scrolling.flows && scrolling.height() <= 0) return;
        const top = scrolling.top(), goesOn = top > knownTop;
        // With the page, more or less of the list is seen as it scrolls. That one of the two goes first which leaves room for the other.
        if (scrolling.flows && goesOn) tellHeight();
        if (top !== knownTop) {
            knownTop = top;
            list.note(scrolled, top, scrolls);
        }
        if (scrolling.flows && !goesOn) tellHeight();
        followPointer();
    }
    function tellHeight() {
        const height = scrolling.height();
        if (height === knownHeight || height <= 0) return;
        knownHeight = height;
        list.note(resized, element.clientWidth, height);
    }
    listen(scrolling.scroller, 'scroll', () => scrollDue ||= requestAnimationFrame(tellScroll));

    // A menu that is higher than its window is scrolled by the browser, too.
    const isMenu = node => node.matches?.('.lectica-menu');
    const tellMenu = menu => list.note(menuScrolled, menu.scrollTop, menu.classList.contains('is-sub') ? 1 : 0);
    const tellMenus = () => {
        for (const menu of root.querySelectorAll('.lectica-menu.is-tall')) tellMenu(menu);
    };
    listen(root, 'scroll', e => { if (isMenu(e.target)) tellMenu(e.target); }, { capture: true });

    function put(kind, e, x, y, button, buttons) {
        if (count === samples.length) flush();
        samples.set([kind, e.pointerId ?? 1, types[e.pointerType] ?? 0, x, y, e.timeStamp, button, buttons, modifiers(e),
            e.isPrimary === false ? 0 : 1, e.pressure ?? 0], count);
        count += fields;
    }

    function take(e) {
        const box = scrolling.origin(), [across, along] = !holds && down.get(e.pointerId) || still;
        // A cancelled pointer has no place.
        const gone = e.type === 'pointercancel';
        dragAt = e.type === 'pointermove' ? { left: box.left, top: box.top, event: bare(e) } : null;
        put(kinds[e.type], e, gone ? 0 : e.clientX - box.left - across, gone ? 0 : e.clientY - box.top - along, e.button, e.buttons);
    }

    // What is dragged stays under a pointer that rests while the list goes on below it: the page scrolls.
    let dragAt = null;
    function followPointer() {
        if (!holds || !dragAt) return;
        const { left, top } = scrolling.origin();
        if (left === dragAt.left && top === dragAt.top) return;
        take({ ...dragAt.event, timeStamp: performance.now() });
        flush();
    }

    const see = (target, x, y) => {
        if (!answersAtOnce) seen = whatIsSeen(target, x, y);
    };

    const isList = target => {
        const at = elementOf(target);
        return viewport.contains(at) || element.contains(at) ? !at.closest(ownControls) : !!at?.closest('.lectica-menu');
    };

    listen(root, 'pointerdown', e => {
        if (!isList(e.target)) return;
        // A page that has just scrolled, or was scrolled by whoever presses, says so only in its next frame.
        tellScroll();
        tellWindow();
        tellMenus();
        down.set(e.pointerId, answersAtOnce ? glidesBy(e.target) : still);
        take(e);
        see(e.target, e.clientX, e.clientY);
        flush();
        // The pointer stays with the list wherever it goes; a finger's does by itself, and one that a script made up cannot.
        if (e.pointerType !== 'touch' && e.isTrusted) element.setPointerCapture(e.pointerId);
    });
    listen(root, 'pointermove', e => {
        // Over an open menu a mouse that is not down lights the entries.
        if (!down.has(e.pointerId) && !(e.pointerType === 'mouse' && e.target.closest?.('.lectica-menu'))) return;
        take(e);
        frame ||= requestAnimationFrame(flush);
    });
    listen(root, 'pointerup pointercancel', e => {
        if (!down.has(e.pointerId)) return;
        take(e);
        down.delete(e.pointerId);
        flush();
    });
    listen(root, 'lostpointercapture', e => {
        if (!down.delete(e.pointerId)) return;
        put(kinds.pointercancel, e, 0, 0, -1, 0);
        flush();
    });
    // Two fingers sideways on a trackpad are a finger on the row: they come as wheels, and end when none comes.
    let glided = 0, glideEnd = 0, gliding = null;
    const endGlide = () => {
        if (gliding) put(kinds.pointerup, { ...gliding, timeStamp: performance.now() }, gliding.x + glided, gliding.y, 0, 0);
        gliding = null;
        flush();
    };
    listen(viewport, 'wheel', e => {
        if (e.ctrlKey || e.deltaMode !== 0 || down.size > 0 || !isList(e.target)) return;
        const sideways = Math.abs(e.deltaX) > 1.5 * Math.abs(e.deltaY);
        if (!gliding && (!sideways || Math.abs(e.deltaX) < 4)) return;
        const box = scrolling.origin(), from = { pointerId: wheelPointer, pointerType: 'touch', timeStamp: e.timeStamp };
        if (!gliding) {
            const [across, along] = answersAtOnce ? glidesBy(e.target) : still;
            gliding = { ...from, x: e.clientX - box.left - across, y: e.clientY - box.top - along };
            glided = 0;
            tellScroll();
            put(kinds.pointerdown, from, gliding.x, gliding.y, 0, 1);
            see(e.target, e.clientX, e.clientY);
        }
        glided -= e.deltaX;
        put(kinds.pointermove, from, gliding.x + glided, gliding.y, -1, 1);
        flush();
        clearTimeout(glideEnd);
        // Where no tray is uncovered the wheel is the browser's.
        if (answersAtOnce && !holds && Math.abs(glided) > 24) {
            put(kinds.pointercancel, from, 0, 0, -1, 0);
            gliding = null;
            flush();
            return;
        }
        glideEnd = setTimeout(endGlide, 120);
        e.preventDefault();
    }, { passive: false });
    // Text that is cut off is told whole.
    listen(viewport, 'pointerover', e => {
        const text = e.target.closest?.('.lectica-label, .lectica-detail');
        if (text) text.title = text.scrollWidth > text.clientWidth ? text.textContent : '';
    });
    // A page that is printed has all rows, as far as a reader will turn pages.
    listen(window, 'beforeprint', () => {
        const content = root.querySelector('.lectica-content'), height = Math.min(content.offsetHeight, mostPrinted);
        viewport.style.height = `${height}px`;
        list.note(resized, element.clientWidth, height);
    });
    listen(window, 'afterprint', () => {
        viewport.style.height = '';
        tellSize();
    });
    // What the list holds the browser must not scroll; it asks while the finger moves.
    // A finger that goes down at the top pulls the list, unless the page itself could be scrolled up.
    let pullsFrom = null;
    listen(viewport, 'touchstart', e => {
        pullsFrom = e.touches.length === 1 && transfers.pulls() && scrolling.top() <= 0 && document.scrollingElement.scrollTop <= 0
            ? e.touches[0].clientY : null;
    }, { passive: true });
    listen(viewport, 'touchmove', e => {
        const pulled = pullsFrom !== null && e.touches.length === 1 && e.touches[0].clientY > pullsFrom;
        if (!pulled) pullsFrom = null;
        if ((holds || pulled) && e.cancelable) e.preventDefault();
    }, { passive: false });
    // A finger beside a sheet closes it, and clicks nothing: by the time of a click the sheet has gone, and what lay below would get it.
    listen(root, 'touchstart', e => { if (e.target.matches?.('.lectica-menu.is-sheet')) e.preventDefault(); }, { passive: false });
    listen(root, 'contextmenu', e => { if (isList(e.target)) e.preventDefault(); });
    const transfers = attachTransfers({
        root, element, viewport, list, listen, answersAtOnce, isList, origin: scrolling.origin,
        holds: () => holds,
        // A drag of the system's takes the pointer along: it goes on as samples of what is dragged.
        letGo: id => down.delete(id),
        sample: (kind, pointer, x, y) => {
            const moves = kind === 'pointermove';
            put(kinds[kind], { ...pointer, timeStamp: performance.now() }, x, y, moves ? -1 : 0, moves ? 1 : 0);
            flush();
        },
    });
    // A click without a pointer is assistive technology's: a tap there.
    listen(root, 'click', e => {
        if (e.detail !== 0 || !isList(e.target)) return;
        if (e.target.closest('.lectica-menu')) e.target.scrollIntoView({ block: 'nearest' });
        const box = scrolling.origin(), at = e.target.getBoundingClientRect();
        const x = at.left + at.width / 2 - box.left, y = at.top + at.height / 2 - box.top;
        const click = { timeStamp: e.timeStamp };
        tellScroll();
        tellMenus();
        put(kinds.pointerdown, click, x, y, 0, 1);
        put(kinds.pointerup, click, x, y, 0, 0);
        see(e.target, at.left + at.width / 2, at.top + at.height / 2);
        flush();
    });

    listen(root, 'keydown', e => {
        if (e.isComposing || (e.target !== element && !e.target.closest('.lectica-menu'))) return;
        const answer = list.key(e.key, modifiers(e) | (e.repeat ? 16 : 0), e.timeStamp);
        if (answersAtOnce ? answer : wouldTake(e)) {
            e.preventDefault();
            e.stopPropagation();
        }
    });
    // Where the answer comes too late, the list has said beforehand which keys it may take, and whether Escape is among them; Tab leaves.
    const wouldTake = e => {
        if (e.target !== element) return e.key !== 'Tab';
        const key = e.key === ' ' ? 'Space' : e.key.length === 1 ? e.key.toUpperCase() : e.key;
        return keys.has(`${modifiers(e)}:${key}`) || (keys.has('typing') && e.key.length === 1 && !(modifiers(e) & ~2));
    };

    // A menu closes when anything else is pressed.
    listen(document, 'pointerdown', e => {
        if (root.querySelector('.lectica-menu') && !(root.contains(e.target) && isList(e.target))) list.note(pressedOutside, 0, 0);
    }, { capture: true });
    // Nobody is hurried: a notice stays while the pointer or the keyboard is on it.
    const onNotice = e => e.target.closest?.('.lectica-brief');
    listen(root, 'pointerover focusin', e => { if (onNotice(e)) list.note(noticeHeld, 1, e.timeStamp); });
    listen(root, 'pointerout focusout', e => {
        if (onNotice(e) && !e.relatedTarget?.closest?.('.lectica-brief')) list.note(noticeHeld, 0, e.timeStamp);
    });

    // Its words take the keyboard from nobody, nor do rows take it from an open menu: what comes of a press on them closes that, or nothing
    // does. After a tap that has opened one, a browser still tells of a mouse that went down on the row.
    const isOnMenu = node => !!node?.closest('[role=menu]');
    listen(root, 'mousedown', e => {
        const isOnRows = isList(e.target) && !isOnMenu(e.target);
        if ((onNotice(e) && !e.target.closest('button')) || (isOnRows && isOnMenu(document.activeElement))) e.preventDefault();
    });

    const keyboard = followKeyboard(root, element, listen, isList, has => list.note(focused, has ? 1 : 0, 0));
    const tellSize = () => {
        scrolling.fit();
        knownHeight = 0;
        if (scrolling.flows) tellScroll();
        tellHeight();
        tellWindow();
    };
    const sizes = new ResizeObserver(tellSize);
    sizes.observe(element);
    if (scrolling.flows) sizes.observe(root);
    // Rows grow with the text.
    const texts = watchText(root, size => list.note(textSized, size, 0));
    // Where the window is, from the list's edge: menus have all of it, and dragging scrolls where it ends.
    let place = '', placeDue = 0;
    function tellWindow() {
        placeDue = 0;
        const box = scrolling.origin(), now = [box.left, box.top, innerWidth, innerHeight].map(Math.round).join();
        if (now === place) return;
        place = now;
        list.note(windowSized, innerWidth, innerHeight);
        list.note(windowPlaced, -box.left, -box.top);
        followPointer();
    }
    const windowMoved = e => { if (e.target !== viewport) placeDue ||= setTimeout(tellWindow, 100); };
    listen(document, 'scroll', windowMoved, { capture: true, passive: true });
    listen(window, 'resize', e => {
        windowMoved(e);
        if (scrolling.flows) tellSize();
    });
    // Whose keys these are: the app may run on another system than the user's.
    list.note(modKeyTold, /^(Mac|iP)/.test(navigator.platform) ? 1 : 0, 0);
    // What was done before it could be answered is done now.
    const kept = early.take(element);
    // Where it was scrolled to, too.
    const scroll = kept.find(e => e.type === 'scroll');
    if (scroll && scroll.host !== element) viewport.scrollTo(scroll.x, scroll.y);
    tellScroll();
    // Where the program has put elements of its own in place of those that came first, the keyboard has gone with them.
    if (kept.length > 0 && document.activeElement === document.body) element.focus({ preventScroll: true });
    if (kept.length > 0 || viewport.contains(document.activeElement)) keyboard.has(true);
    const went = new Map();
    for (const [i, e] of kept.entries()) {
        if (e.type === 'keydown') list.key(e.key, modifiers(e), e.timeStamp);
        early.pressAgain(element, e);
        if (!(e.type in kinds)) continue;
        const x = e.x - viewport.scrollLeft, y = e.y - (scrolling.flows ? scrolling.top() : viewport.scrollTop);
        if (e.type === 'pointerdown') went.set(e.pointerId, begin(e, x, y, kept.slice(i)));
        const by = went.get(e.pointerId);
        if (!by) continue;
        put(kinds[e.type], e, x + by.x, y + by.y, e.button, e.buttons);
        flush();
    }
    // One that has not ended goes on with the list, unless that is out of sight: the pointer left the window, and ended there.
    function begin(press, x, y, after) {
        const ends = after.some(e => (e.type === 'pointerup' || e.type === 'pointercancel') && e.pointerId === press.pointerId);
        if (!ends && !captures(press.pointerId)) return null;
        const by = wentOn(press, x, y);
        if (by && !ends) down.set(press.pointerId, [-by.x, -by.y]);
        return by;
    }
    function captures(pointer) {
        try {
            element.setPointerCapture(pointer);
            return true;
        } catch {
            return false;
        }
    }
    // How far a row has gone on that was pressed before there was an answer; null where it is no more.
    function wentOn(e, x, y) {
        if (!isNamed(e.row)) return { x: 0, y: 0 };
        const row = rowLike(viewport, e.row);
        if (!row) return null;
        const at = row.getBoundingClientRect(), from = scrolling.origin();
        see(row, at.left + e.inRow.x, at.top + e.inRow.y);
        return { x: at.left + e.inRow.x - from.left - x, y: at.top + e.inRow.y - from.top - y };
    }
    const ghosts = keepGhosts(root, listen, answersAtOnce);
    const measures = root.classList.contains('is-measured') ? measureRows(root, list) : null;

    return {
        scrollTo: (top, number = 0) => {
            // One that is known is said again where it might have been lost.
            if (number > 0 && number === scrolls) return;
            scrolls = number;
            knownTop = scrolling.to(top);
        },
        carryTo: (top, gap, left, gapLeft) => {
            for (const [name, value] of [['card-top', top], ['gap-top', gap], ['card-left', left], ['gap-left', gapLeft]])
                over.style.setProperty(`--lectica-${name}`, `${value}px`);
        },
        // The same words twice are said twice: a live region speaks where its text changes.
        say: text => { said.textContent = said.textContent === text ? text + '\u200b' : text; },
        glide: rows => {
            if (isStill.matches) return;
            const parts = rows.split('\0');
            for (let i = 0; i + 2 < parts.length; i += 3) {
                const row = document.getElementById(parts[i])?.closest('.lectica-row'), from = Number(parts[i + 1]),
                    across = Number(parts[i + 2]);
                if (!row) continue;
                // Added to what is under way, so that nothing jumps where something comes in between.
                if (Number.isNaN(from)) row.animate({ opacity: [0, 1] }, { duration: glideTime, easing });
                else row.animate({ translate: [`${across}px ${from}px`, '0 0'] }, { duration: glideTime, easing, composite: 'add' });
            }
            ghosts.expect();
        },
        hint: time => { if (navigator.userActivation?.hasBeenActive) navigator.vibrate?.(time); },
        reveal: id => document.getElementById(id)?.scrollIntoView({ block: 'nearest' }),
        raise: bringUp,
        expectKeys: chords => { keys = new Set(chords); },
        expectUse: transfers.expectUse, putClipboard: transfers.putClipboard, askClipboard: transfers.askClipboard,
        detach: () => {
            stop.abort();
            sizes.disconnect();
            measures?.disconnect();
            ghosts.disconnect();
            keyboard.disconnect();
            texts.end();
            clearTimeout(placeDue);
            list.end();
        },
    };
}

/** What of a pointer's event can be said again later. */
function bare(e) {
    const { type, pointerId, pointerType, isPrimary, pressure, button, buttons, clientX, clientY } = e;
    const { ctrlKey, shiftKey, altKey, metaKey } = e;
    return { type, pointerId, pointerType, isPrimary, pressure, button, buttons, clientX, clientY, ctrlKey, shiftKey, altKey, metaKey };
}

/** The element that stands for the same row now: it may be another, such as that of a tile in another line. */
const rowLike = (within, row) => [...within.querySelectorAll('.lectica-row')].find(
    e => e.dataset.key === row.dataset.key && e.dataset.heading === row.dataset.heading);

/** Whether a row is of something that it can be known again by: a notice is not, nor what has not been read. */
const isNamed = row => (row?.dataset.key ?? row?.dataset.heading) !== undefined;

/** The element that an event is of: selected text that is dragged is the target itself. */
const elementOf = target => target.closest ? target : target.parentElement;

/** How far the row that is pressed is seen from where it glides to, px: across and down. */
function glidesBy(target) {
    const row = elementOf(target).closest('.lectica-content .lectica-row');
    if (!row?.getAnimations().length) return [0, 0];
    const [across, along] = getComputedStyle(row).translate.split(' ').map(parseFloat);
    return [across || 0, along || 0];
}

/** What somebody sees where they press, and where in it: by the time that a list elsewhere hears of it, that may have gone on. */
function whatIsSeen(target, x, y) {
    const at = elementOf(target);
    if (at.closest('.lectica-menu')) return { kind: anEntry, name: at.closest('[data-entry]')?.dataset.entry };
    const sticky = at.closest('.lectica').querySelector('.lectica-sticky .lectica-row'), over = sticky?.getBoundingClientRect();
    const row = y >= over?.top && y < over.bottom ? sticky : at.closest('.lectica-content .lectica-row');
    if (!isNamed(row)) return { kind: row ? unseen : nothing };
    const box = row.getBoundingClientRect(), { key, heading } = row.dataset;
    return { kind: key === undefined ? aHeading : anItem, name: key ?? heading, x: x - box.left, y: y - box.top };
}

/**
 * What goes is seen to go: a copy of it fades where it was. Rows that were only scrolled away do not; which have gone is known as the list
 * says that the others make up for it. Where it runs in the page it says so before what has been removed comes to the watcher.
 */
function keepGhosts(root, listen, answersAtOnce) {
    const frame = root.querySelector('.lectica-frame'), content = root.querySelector('.lectica-content'),
        viewport = root.querySelector('.lectica-viewport');
    let rows = [], rowsAt = 0, place = '', seen = '';
    // Where rows were seen last: the list may have scrolled since, and to ask for its place then would lay out the page once more.
    const see = () => { seen = `${-viewport.scrollTop}px 0 0 ${-viewport.scrollLeft}px`; };
    listen(viewport, 'scroll', see);
    see();
    const fade = (node, under) => {
        const ghost = node.cloneNode(true);
        for (const e of [ghost, ...ghost.querySelectorAll('[id]')]) e.removeAttribute('id');
        for (const name of ['popover', 'role', 'data-key', 'data-heading']) ghost.removeAttribute(name);
        ghost.setAttribute('aria-hidden', 'true');
        ghost.inert = true;
        ghost.classList.add('is-ghost');
        under.append(ghost);
        const end = () => ghost.remove();
        // The way it came.
        const away = node.matches('.lectica-menu.is-sheet') ? '0 100%' : node.matches('.lectica-brief') ? '0 16px' : '0';
        ghost.animate({ opacity: [1, 0], translate: ['0', away] }, { duration: fadeTime, easing }).finished.then(end, end);
        return ghost;
    };
    const look = changes => {
        if (isStill.matches) return;
        const gone = changes.flatMap(change => [...change.removedNodes])
            .flatMap(node => node.nodeType === 1 && node.matches('.lectica-line') ? [...node.children] : [node])
            .filter(node => node.nodeType === 1 && !node.isConnected && !node.classList.contains('is-ghost'));
        for (const node of gone)
            if (node.matches('.lectica-menu, .lectica-brief') && !(node.id && document.getElementById(node.id))) fade(node, frame ?? root);
        if (frame && changes.some(change => change.target !== frame))
            [rows, rowsAt, place] = [gone.filter(node => node.matches('.lectica-row')), performance.now(), seen];
    };
    const expect = () => {
        if (answersAtOnce) rows = [];
        look(watch.takeRecords());
        // From elsewhere it comes a message later.
        const ghosts = performance.now() - rowsAt < 500 ? rows.filter(row => !rowLike(content, row)) : [];
        rows = [];
        for (const row of ghosts) fade(row, frame).style.margin = place;
    };
    const watch = new MutationObserver(look);
    watch.observe(content, { childList: true, subtree: root.classList.contains('is-tiled') });
    if (frame) watch.observe(frame, { childList: true });
    return { expect, disconnect: () => watch.disconnect() };
}

/** Tells whether the rows or a menu of theirs have the keyboard. What has it and goes gives it to the list, which is no leaving. */
function followKeyboard(root, element, listen, isList, tell) {
    let had = false;
    const has = now => {
        if (now === had) return;
        had = now;
        tell(now);
    };
    const home = keepKeyboard(root, listen, () => element, element, () => has(false));
    // Whoever comes from what stands around the rows, such as the box of all, comes to them all the same.
    listen(root, 'focusin', e => {
        if (isList(e.target)) has(true);
        else if (e.target.closest('.lectica-header')) has(false);
    });
    return { has, disconnect: home.disconnect };
}

/**
 * What has the keyboard and goes, such as a menu, the button of a notice or a tool without room, gives it to what stays.
 * @param {() => HTMLElement} home what that is
 * @param {HTMLElement} stays what never goes
 * @param {() => void} left the keyboard has gone elsewhere
 */
function keepKeyboard(root, listen, home, stays = null, left = () => { }) {
    let last = null;
    const watch = new MutationObserver(() => {
        if (last.isConnected) return;
        watch.disconnect();
        // Whoever has gone to something else has the keyboard there.
        if (document.activeElement === document.body) home().focus({ preventScroll: true });
        else if (!root.contains(document.activeElement)) left();
    });
    listen(root, 'focusin', e => {
        last = e.target;
        if (last === stays) watch.disconnect();
        else watch.observe(root, { childList: true, subtree: true });
    });
    listen(root, 'focusout', e => {
        if (root.contains(e.relatedTarget)) return;
        // Of what goes, some browsers say so while it is there still: whether it goes is known once it has.
        queueMicrotask(() => {
            if (last !== e.target || !last.isConnected) return;
            watch.disconnect();
            left();
        });
    });
    return { disconnect: () => watch.disconnect() };
}

/** Tells how large text is, px, at first and whenever that changes: a box of one rem does. */
function watchText(root, tell) {
    const box = document.createElement('span');
    box.style.cssText = 'position:absolute;width:1rem;height:1rem;visibility:hidden;pointer-events:none';
    box.setAttribute('aria-hidden', 'true');
    root.append(box);
    const sizes = new ResizeObserver(() => tell(box.offsetHeight || 16));
    sizes.observe(box);
    return { end: () => { sizes.disconnect(); box.remove(); } };
}

/** Brings a menu up: over everything else, with the keyboard on it. */
function bringUp(id) {
    const element = document.getElementById(id);
    if (!element) return;
    if (element.popover && !element.matches(':popover-open')) element.showPopover();
    element.focus({ preventScroll: true });
}

/** Tells how high the rows are drawn, as each comes and whenever that changes. */
function measureRows(root, list) {
    const sizes = new ResizeObserver(entries => {
        const all = entries.filter(e => e.target.isConnected).slice(0, 500);
        list.heights(all.map(e => e.target.dataset.key), all.map(e => Math.round(e.borderBoxSize[0].blockSize * 100) / 100));
    });
    const content = root.querySelector('.lectica-content');
    const watch = nodes => nodes.forEach(row => row.dataset?.key === undefined || sizes.observe(row));
    const rows = new MutationObserver(changes => changes.forEach(change => {
        watch(change.addedNodes);
        change.removedNodes.forEach(row => row.dataset?.key === undefined || sizes.unobserve(row));
    }));
    watch(content.childNodes);
    rows.observe(content, { childList: true });
    return { disconnect: () => { sizes.disconnect(); rows.disconnect(); } };
}

/** A toolbar: tells how wide it is, and keeps its keys from scrolling the page. */
export function attachToolbar(element, bridge) {
    const stop = new AbortController();
    const listen = (target, name, handler) => target.addEventListener(name, handler, { signal: stop.signal });
    const keyboard = keepKeyboard(element, listen, () => element.querySelector('[tabindex="0"]') ?? element);
    listen(element, 'keydown', e => {
        const menu = element.querySelector('[role=menu]');
        if (menu ? e.key !== 'Tab' : /^(Arrow(Left|Right)|Home|End)$/.test(e.key)
            || (e.key === 'ArrowDown' && e.target.ariaHasPopup)) e.preventDefault();
    });
    const rem = () => parseFloat(getComputedStyle(document.documentElement).fontSize);
    const tell = () => bridge.invokeMethodAsync('TakeSize', element.clientWidth, rem() / 16);
    const widths = new ResizeObserver(tell);
    widths.observe(element);
    // A font that comes later, or larger text, is another width for each label.
    const texts = watchText(element, tell);
    listen(document.fonts, 'loadingdone', tell);
    // How wide labels with their icons are in the toolbar's font, px: an icon is 1.375 rem, and 6 px from its label.
    function measure(labels) {
        const drawing = document.createElement('canvas').getContext('2d');
        const style = getComputedStyle(element);
        drawing.font = `${style.fontStyle} ${style.fontWeight} ${style.fontSize} ${style.fontFamily}`;
        const icon = 1.375 * rem() + 6;
        return labels.map(label => Math.ceil(drawing.measureText(label).width + icon));
    }
    // The window, from the toolbar's edge.
    const room = () => {
        const box = element.getBoundingClientRect();
        return [-box.left, -box.top, innerWidth - box.left, innerHeight - box.top];
    };
    document.addEventListener('pointerdown', e => {
        if (element.querySelector('[role=menu]') && !element.contains(e.target)) bridge.invokeMethodAsync('PressedOutside');
    }, { capture: true, signal: stop.signal });
    const reveal = id => document.getElementById(id)?.scrollIntoView({ block: 'nearest' });
    for (const e of early.take(element)) early.pressAgain(element, e);
    const detach = () => {
        stop.abort();
        widths.disconnect();
        keyboard.disconnect();
        texts.end();
    };
    return { measure, room, raise: bringUp, reveal, detach };
}
