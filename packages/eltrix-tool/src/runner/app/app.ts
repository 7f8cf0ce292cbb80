import './runner-app.ts';
