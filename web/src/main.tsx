document.title = 'Olivine';
