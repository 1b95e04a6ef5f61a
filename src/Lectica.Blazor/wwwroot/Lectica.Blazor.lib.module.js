// A page that is drawn before the program behind it answers is pressed before, too. What is done to a list by then is kept here, and handed
// to the list as it comes. Blazor loads this file by its name, before it starts anything.

const names = ['pointerdown', 'pointermove', 'pointerup', 'pointercancel', 'keydown'];
// As much as a few presses are.
const most = 400;

function keepWhatComes() {
    // By the id of the element that will have the keyboard; the list's script takes it from there.
    const kept = document[Symbol.for('lectica.kept')] ??= new Map();
    const keep = e => {
        const viewport = e.target.closest?.('.lectica-viewport');
        if (!viewport || viewport[Symbol.for('lectica.answers')]) return;
        const all = kept.get(viewport.id) ?? [];
        if (all.length >= most || (e.type === 'pointermove' && all.at(-1)?.type === 'keydown')) return;
        const box = viewport.getBoundingClientRect();
        kept.set(viewport.id, [...all, {
            type: e.type, key: e.key, repeat: e.repeat, pointerId: e.pointerId, pointerType: e.pointerType, isPrimary: e.isPrimary,
                pressure: e.pressure,
            button: e.button, buttons: e.buttons, ctrlKey: e.ctrlKey, shiftKey: e.shiftKey, altKey: e.altKey, metaKey: e.metaKey,
                timeStamp: e.timeStamp,
            x: e.clientX - box.left, y: e.clientY - box.top + viewport.scrollTop, scrolled: viewport.scrollTop,
        }]);
    };
    for (const name of names) document.addEventListener(name, keep, { capture: true, passive: true });
}

// In apps of several ways to be drawn, and in those of one.
export const beforeWebStart = keepWhatComes, beforeStart = keepWhatComes;
