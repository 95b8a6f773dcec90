module lien

go 1.26
