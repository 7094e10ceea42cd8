import i18next from 'i18next';
import { initReactI18next } from 'react-i18next';

const FILES = import.meta.glob<{ default: Record<string, unknown> }>('../locales/*/owner.json', { eager: true });

/** The owner's page speaks from a catalogue, a file for each language: the one that the phone asks for, else English. */
const resources = Object.fromEntries(
    Object.entries(FILES).map(([path, file]) => [path.split('/').at(-2)!, { owner: file.default }] as const),
);

void i18next.use(initReactI18next).init({
    resources,
    lng: navigator.language.split('-')[0],
    fallbackLng: 'en',
    ns: ['owner'],
    defaultNS: 'owner',
    interpolation: { escapeValue: false },
});

export default i18next;
